<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\QueryResult;
use App\Queries\QueryRefused;
use App\Queries\QuerySlots;
use App\Queries\Results\KeptResults;
use App\Queries\Results\ResultOrder;
use App\Queries\Results\ResultRows;
use App\Queries\SqlGuard;
use App\View\ResultGrid;
use Illuminate\Http\JsonResponse;
use Symfony\Component\HttpFoundation\StreamedResponse;

/**
 * All rows of a statement for the grid, which fetches them in parts as they are scrolled to.
 */
final class ResultController extends Controller
{
    /** Seconds that it waits for its turn before it says so. */
    private const PATIENCE = 15;

    public function __construct(private readonly KeptResults $results, private readonly QuerySlots $turns)
    {
    }

    /**
     * Lines of JSON: how many rows there are so far, at last the result, or why there is none. It is stopped by
     * leaving.
     */
    public function all(): StreamedResponse
    {
        $sql = $this->text('sql');
        $column = $this->text('column');
        $order = new ResultOrder($column === '' ? null : (int) $column, $this->text('down') === '1', $this->text('find'));

        return response()->stream(function () use ($sql, $order): void {
            try {
                $turn = $this->turns->await($this->person(), self::PATIENCE);
                $kept = $this->results->all($this->person(), $this->environment(), SqlGuard::checked($sql), $order->isNone() ? null : $order, static function (int $rows): bool {
                    self::line(['rows' => $rows]);

                    return connection_aborted() === 0;
                });
                self::line($kept === null ? ['fault' => 'Stopped.'] : ['result' => $kept->id, 'rows' => $kept->rows, 'cut' => $kept->about['cut'], 'part' => ResultRows::PART]);
            } catch (QueryRefused $refused) {
                self::line(['fault' => $refused->getMessage()]);
            } finally {
                ($turn ?? null)?->giveBack();
            }
        }, 200, ['Content-Type' => 'application/x-ndjson', 'X-Accel-Buffering' => 'no', 'Cache-Control' => 'no-store']);
    }

    /**
     * @param  array<string, mixed>  $line
     */
    private static function line(array $line): void
    {
        echo json_encode($line, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE), "\n";
        if (ob_get_level() > 0) {
            ob_flush();
        }
        flush();
    }

    public function part(int $result, int $part): JsonResponse
    {
        $kept = $this->results->byId($this->person(), $this->environment(), $result);
        if (! $kept instanceof QueryResult) {
            return response()->json(['fault' => 'These rows are no longer here: what they were read from has changed, or nobody looked for a day. Run the query again.'], 410);
        }
        $data = (new ResultGrid(KeptResults::columns($kept), ResultRows::part($kept, $part)))->data();

        return response()->json(['rows' => $data['rows'], 'cut' => $data['cut']])->header('Cache-Control', 'no-store');
    }
}
