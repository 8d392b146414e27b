<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\KeptColumn;
use App\Queries\ColumnTexts;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlot;
use App\Queries\QuerySlots;
use App\Queries\Result;
use App\Queries\Results\KeptResults;
use App\Queries\RunningStatements;
use App\Queries\SqlGuard;
use App\Queries\StatementValues;
use App\Queries\Waiting;
use App\View\ResultGrid;
use DeepSpring\Sql\ImpossibleDates;
use DeepSpring\Sql\StatementText;
use Doctrine\SqlFormatter\NullHighlighter;
use Doctrine\SqlFormatter\SqlFormatter;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Response;
use Illuminate\Support\Carbon;

/**
 * Runs what stands in the editor: of several statements the one under the cursor.
 */
final class QueryRunController extends Controller
{
    public function __construct(private readonly QueryRunner $runner, private readonly QuerySlots $turns, private readonly KeptResults $results, private readonly RunningStatements $running)
    {
    }

    public function run(): View
    {
        $text = $this->sql();
        $cursor = $this->text('cursor');
        $statement = StatementText::at($text, $cursor === '' ? 0 : (int) $cursor);
        $sql = $statement->sql ?? '';
        $of = count(StatementText::all($text));
        $asked = new AskedValues($text, [], request()->all());
        try {
            SqlGuard::checked($sql);
            $bound = StatementValues::bound($sql, $asked->settings(), $asked->values, $this->person());
            $turn = $this->turns->take($this->person(), $this->text('ticket') ?: null);
            if ($turn instanceof Waiting) {
                return view('queries.waiting', ['waiting' => $turn, 'sql' => $text, 'cursor' => $cursor]);
            }
            $this->running->under($this->person(), $this->text('mark'));
            $result = $this->result($bound->sql);
            $grid = new ResultGrid($result->columns, $result->rows, array_map(static fn (KeptColumn $one): string => $one->about(), ColumnTexts::of($this->environment(), $bound->sql)));

            return view('queries.result', ['result' => $result, 'grid' => $grid, 'refused' => null, 'sql' => $sql, 'of' => $of, 'bound' => $bound->sql, 'joins' => preg_match('/\bjoin\b|,/i', $sql) === 1, 'draws' => $grid->hasAmounts() && $result->rows !== [], 'why' => $result->rows === [] ? ImpossibleDates::in($sql) : []]);
        } catch (QueryRefused $refused) {
            $fault = $refused->fault;
            $at = $fault?->at === null || ! isset($bound) ? null : self::characters(substr($text, 0, ($statement->at ?? 0) + $bound->written($fault->at)));

            return view('queries.result', ['result' => null, 'refused' => $refused, 'sql' => $sql, 'of' => $of, 'at' => $at, 'length' => $fault?->at === null || ! isset($bound) ? 0 : self::characters(substr($bound->sql, $fault->at, $fault->length))]);
        } finally {
            $this->running->ended();
            if (($turn ?? null) instanceof QuerySlot) {
                $turn->giveBack();
            }
        }
    }

    /**
     * @throws QueryRefused
     */
    private function result(string $sql): Result
    {
        $kept = $this->text('again') === '1' ? null : $this->results->find($this->person(), $this->environment(), $sql);
        if ($kept !== null) {
            return $this->results->shown($kept, $this->environment());
        }
        $begun = Carbon::now();
        $result = $this->runner->run($this->person(), $this->environment(), $sql);
        $this->results->keep($this->person(), $this->environment(), $sql, $result, $begun);

        return $result;
    }

    /**
     * Ends what a page waits for.
     */
    public function stop(): Response
    {
        $this->running->stop($this->person(), $this->text('mark'));

        return response('', 204);
    }

    /**
     * The parameters of what stands in the editor now.
     */
    public function asks(): View
    {
        $asked = new AskedValues($this->sql(), [], request()->all());
        $choices = [];
        foreach (array_keys($asked->parameters) as $name) {
            $choices[$name] = $asked->choices($name, $this->runner, $this->person(), $this->environment());
        }

        return view('queries.asks', ['asked' => $asked, 'choices' => $choices]);
    }

    /**
     * The same text with line ends and indents.
     */
    public function tidy(): Response
    {
        $formatter = new SqlFormatter(new NullHighlighter);
        $tidied = array_map(static fn (StatementText $one): string => $formatter->format($one->sql, '    '), StatementText::all($this->sql()));

        return response(implode(";\n\n", $tidied), 200, ['Content-Type' => 'text/plain; charset=utf-8']);
    }

    /**
     * As scripts in a browser count them, in units of UTF-16.
     */
    public static function characters(string $text): int
    {
        return intdiv(strlen(mb_convert_encoding($text, 'UTF-16LE', 'UTF-8')), 2);
    }

    private function sql(): string
    {
        $sql = request()->input('sql');

        return is_string($sql) ? str_replace("\r\n", "\n", $sql) : '';
    }
}
