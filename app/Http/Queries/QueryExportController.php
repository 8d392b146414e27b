<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Queries\ExportFiles;
use App\Queries\ExportList;
use App\Queries\Exports;
use App\Queries\QueryRefused;
use App\Queries\QuerySlots;
use App\Queries\SqlGuard;
use App\Queries\StatementValues;
use DeepSpring\Export\CannotExport;
use DeepSpring\Export\ExportChoice;
use DeepSpring\Export\ExportFormat;
use DeepSpring\Sql\StatementText;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Response;
use Symfony\Component\HttpFoundation\BinaryFileResponse;

/**
 * Writes a result to a file, tells how far it is, and hands it out under an address that ends after an hour.
 */
final class QueryExportController extends Controller
{
    /** Seconds that an export waits for its turn before it says so. */
    private const PATIENCE = 15;

    public function __construct(private readonly Exports $exports, private readonly QuerySlots $turns, private readonly Repository $cache, private readonly AuditLog $log, private readonly ExportList $list)
    {
    }

    public function ask(): View
    {
        $format = ExportFormat::tryFrom($this->text('as')) ?? ExportFormat::Csv;
        $text = request()->input('sql');
        $text = is_string($text) ? str_replace("\r\n", "\n", $text) : '';
        $one = StatementText::at($text, (int) $this->text('cursor'));
        $statements = $format === ExportFormat::Xlsx && $this->text('all') === '1' ? StatementText::all($text) : ($one === null ? [] : [$one]);
        $token = preg_match('/^[a-z0-9]{16,40}$/D', $this->text('token')) === 1 ? $this->text('token') : bin2hex(random_bytes(12));
        $choice = new ExportChoice($this->text('exact') !== '1', ExportChoice::SEPARATORS[$this->text('separator')] ?? ',', isset(ExportChoice::ENCODINGS[$this->text('encoding')]) ? $this->text('encoding') : 'utf-8', $this->text('titles') === '1');
        $key = "export:{$this->person()->id}:$token";
        try {
            array_map(static fn (StatementText $statement): string => SqlGuard::checked($statement->sql), $statements ?: [SqlGuard::checked('')]);
            // Whoever goes away finds the file among those of the last hour.
            ignore_user_abort(true);
            $this->list->begins($this->person(), $token, $format->value, implode('; ', array_map(static fn (StatementText $one): string => $one->sql, $statements)));
            $turn = $this->turns->await($this->person(), self::PATIENCE);
            $asked = new AskedValues($text, [], request()->all());
            $bound = array_map(fn (StatementText $statement): string => StatementValues::bound($statement->sql, $asked->settings(), $asked->values, $this->person())->sql, $statements);
            $outcome = $this->exports->write($this->person(), $this->environment(), $bound, $format, $choice, $this->path($token), null, function (int $rows) use ($key): bool {
                $this->cache->put("$key:rows", $rows, ExportFiles::STAYS);

                return $this->cache->get("$key:stop") === null;
            });
        } catch (QueryRefused|CannotExport $refused) {
            $this->list->ends($this->person(), $token, null, null, 'failed');

            return view('queries.exported', ['fault' => $refused->getMessage()]);
        } finally {
            ($turn ?? null)?->giveBack();
        }
        if ($outcome === null) {
            $this->list->ends($this->person(), $token, null, null, 'stopped');

            return view('queries.exported', ['fault' => 'Stopped. Nothing was written.']);
        }
        $sql = implode('; ', array_map(static fn (StatementText $statement): string => $statement->sql, $statements));
        $this->log->note(Action::Exported, mb_strimwidth((string) preg_replace('/\s+/', ' ', $sql), 0, 280, '…', 'UTF-8'), $this->environment()->name);
        $this->cache->put($key, ['format' => $format->value, 'name' => 'query-'.now()->format('Y-m-d-His').'.'.$format->value], ExportFiles::STAYS);

        $this->list->ends($this->person(), $token, $outcome->rows, (int) filesize($this->path($token)), null);

        return view('queries.exported', ['fault' => null, 'outcome' => $outcome, 'token' => $token, 'format' => $format, 'bytes' => (int) filesize($this->path($token))]);
    }

    /**
     * The file; with `about`, how many rows of it there are; with `stop`, its end.
     */
    public function give(string $token): BinaryFileResponse|Response
    {
        $key = "export:{$this->person()->id}:$token";
        if ($this->text('stop') === '1') {
            $this->cache->put("$key:stop", true, ExportFiles::STAYS);

            return response('', 204);
        }
        if ($this->text('about') === '1') {
            return response((string) ($this->cache->get("$key:rows") ?? ''), 200, ['Content-Type' => 'text/plain']);
        }
        $known = $this->cache->get($key);
        $path = preg_match('/^[a-z0-9]{16,40}$/D', $token) === 1 ? $this->path($token) : '';
        abort_if(! is_array($known) || ! is_file($path), 404, 'This file is not there any more: it stays for an hour. Export it again.');

        return response()->download($path, $known['name'], ['Content-Type' => ExportFormat::from($known['format'])->mediaType()]);
    }

    private function path(string $token): string
    {
        return ExportFiles::path("{$this->person()->id}-$token");
    }
}
