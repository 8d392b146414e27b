<?php

declare(strict_types=1);

namespace App\Changes;

use App\Pipeline\ReadPage;
use App\Pipeline\RowMaker;
use App\Secrets\Vault;
use App\Transport\Sent;
use DeepSpring\Answer\Format\Read;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Change\BoundEndpoint;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;

/**
 * Answers with one record → its row, by the plan of the table, as a refresh would make it.
 */
final readonly class RecordReader
{
    public function __construct(private ChangeTable $table, private Vault $vault)
    {
    }

    /**
     * @param  Sent  $sent  without what is secret
     * @param  array<string, string|null>  $row  that is kept: what of it is no part of the record stays
     * @return SeenRecord|null null where the answer holds no record of that table
     */
    public function read(Sent $sent, BoundEndpoint $bound, array $row): ?SeenRecord
    {
        if (trim($sent->body) === '') {
            return null;
        }
        $answer = $bound->endpoint->answer();
        try {
            $read = $answer->read($sent->body, $sent->contentType());
            $page = $answer->pageOf($read);
        } catch (UnreadableAnswer) {
            return null;
        }

        return count($page->values) !== 1 ? null : $this->of($read, $page->only(0), $sent, $row);
    }

    /**
     * @param  array<string, string|null>  $row
     */
    private function of(Read $read, RecordPage $page, Sent $sent, array $row): ?SeenRecord
    {
        $record = $page->values[0];
        if (! is_array($record) && ! $record instanceof \stdClass) {
            return null;
        }
        $plan = new Plan($this->table->plan->table);
        $batch = (new RowMaker($plan, [], $this->vault->masks()))->of(new ReadPage(1, $read->document, $page->values, Sent::kept('application/json', ''), page: $page));
        if (count($batch->rows[0]) !== 1) {
            return null;
        }
        $isWhole = true;
        $made = [];
        foreach ($plan->table->columns as $place => $column) {
            if (! in_array($column->source, [ColumnSource::From, ColumnSource::Compute], true) && array_key_exists($column->name, $row)) {
                // A list knows it from what it was asked with, or from around its records.
                $batch->rows[0][0][$place] = $row[$column->name];
            }
            $isWhole = $isWhole && ! $this->isMissing($column, $record, $row[$column->name] ?? null);
            $made[$column->name] = $batch->rows[0][0][$place];
        }
        foreach ($plan->table->key as $name) {
            if ($made[$name] === null) {
                return null;
            }
        }

        return new SeenRecord($made, $batch, $isWhole, $this->tables($plan, $record), $sent->headers['etag'] ?? self::etag($record), $sent->body);
    }

    /**
     * Whether the answer says nothing of what the row has: it may hold only a part of the record.
     */
    private function isMissing(Column $column, mixed $record, ?string $kept): bool
    {
        return $kept !== null && $column->source === ColumnSource::From && $column->single && $column->path?->nodes($record) === [];
    }

    /**
     * @return list<int>
     */
    private function tables(Plan $plan, mixed $record): array
    {
        $numbers = [0];
        $number = 1;
        foreach ($plan->table->branches as $branch) {
            $array = $branch->from === null ? null : (string) preg_replace('/\[\*\]$/D', '', $branch->from->text);
            $isThere = $array !== null && ! str_contains($array, '[') && JsonPath::parse($array)->nodes($record) !== [];
            foreach ($branch->all() as $one) {
                $isThere && $numbers[] = $number;
                $number++;
            }
        }

        return $numbers;
    }

    /**
     * A state as OData writes it into the record (OData JSON Format 4.01 §4.6.12; 2.0 Atom and JSON: __metadata.etag).
     */
    private static function etag(mixed $record): ?string
    {
        $record = (array) $record;
        $found = $record['@odata.etag'] ?? $record['@etag'] ?? ((array) ($record['__metadata'] ?? []))['etag'] ?? null;

        return is_string($found) ? $found : null;
    }
}
