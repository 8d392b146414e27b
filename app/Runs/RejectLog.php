<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\RejectedValue;
use App\Models\Run;
use App\Pipeline\ReadPage;
use DeepSpring\Flatten\Reject;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Keeps the first rejects of a run, each with its place.
 */
final class RejectLog
{
    private int $left;

    /**
     * @param  int  $most  rejects of one run
     */
    public function __construct(private readonly Run $run, private readonly EndpointDefinition $endpoint, int $most)
    {
        $this->left = $most;
    }

    public function begin(): void
    {
        RejectedValue::query()->where('run_id', $this->run->id)->delete();
    }

    /**
     * @param  int  $pages  that are safe; rejects of others come again
     */
    public function goOn(int $pages): void
    {
        RejectedValue::query()->where('run_id', $this->run->id)->where('page', '>', $pages)->delete();
        $this->left -= RejectedValue::query()->where('run_id', $this->run->id)->count();
    }

    /**
     * @param  list<Reject>  $rejects
     */
    public function keep(ReadPage $page, array $rejects): void
    {
        $rows = [];
        foreach (array_slice($rejects, 0, max(0, $this->left)) as $reject) {
            $rows[] = [
                'run_id' => $this->run->id, 'page' => $page->number, 'table' => $reject->table, 'column' => $reject->column,
                'path' => mb_substr(self::before($page, $reject).$this->place($page, $reject), 0, 1000), 'record_key' => $reject->key,
                'value' => $reject->value, 'reason' => mb_substr($reject->reason, 0, 300), 'whole_record' => $reject->wholeRecord,
            ];
        }
        $this->left -= count($rows);
        if ($rows !== []) {
            RejectedValue::query()->insert($rows);
        }
    }

    /**
     * Of a row that was asked for and failed it stands in the place already.
     */
    private static function before(ReadPage $page, Reject $reject): string
    {
        return match (true) {
            $page->inputs === null => "page {$page->number}: ",
            $reject->record < 0 => '',
            default => "row {$page->number}: ",
        };
    }

    private function place(ReadPage $page, Reject $reject): string
    {
        if ($reject->record < 0) {
            return $reject->path;
        }
        $record = $this->endpoint->answer()->locate($page->document, $reject->record);

        return str_starts_with($reject->path, '$') ? $record.substr($reject->path, 1) : "$record, {$reject->path}";
    }
}
