<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Exchange;
use App\Models\Run;
use DeepSpring\Answer\RecordPlace;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\RowNodes;
use DeepSpring\Flatten\TablePlan;

/**
 * What is known of where a row came from.
 */
final readonly class RowOrigin
{
    /**
     * @param  TablePlan|null  $plan  by which the row was made; null where it is no longer known
     * @param  Run|null  $run  that read the answers which are kept
     * @param  array{pages: int, bytes: int, kept_at: string}|null  $kept  null where no answers are kept
     * @param  int|null  $page  of the answers; null where the row was not found in them
     * @param  int|null  $unread  the page to look on from, where the time was up
     * @param  mixed  $record  with its numbers as they were written
     * @param  RecordPlace|null  $place  of the record in the answer
     * @param  list<string|null>|null  $made  what the answer becomes by the plan, in the order of its columns
     * @param  RowNodes|null  $nodes  null where it cannot be said which element of the record it is
     * @param  Exchange|null  $exchange  of that page, where it is kept
     * @param  string|null  $asked  method and target of its request, as the run noted them
     */
    public function __construct(
        public ?TablePlan $plan,
        public ?Run $run,
        public ?array $kept,
        public ?int $page = null,
        public ?int $unread = null,
        public mixed $record = null,
        public ?RecordPlace $place = null,
        public ?array $made = null,
        public ?RowNodes $nodes = null,
        public ?Exchange $exchange = null,
        public mixed $envelope = null,
        public ?string $asked = null,
    ) {
    }

    public function column(string $given): ?Column
    {
        foreach ($this->plan->columns ?? [] as $column) {
            if ($column->name === $given) {
                return $column;
            }
        }

        return null;
    }

    /**
     * What the answer makes of a column; null also where nothing was found.
     */
    public function madeOf(string $given): ?string
    {
        foreach ($this->plan->columns ?? [] as $number => $column) {
            if ($column->name === $given) {
                return $this->made[$number] ?? null;
            }
        }

        return null;
    }

    /**
     * Where the values of a column stand in the record.
     *
     * @return list<list<string|int>>
     */
    public function steps(string $given): array
    {
        $column = $this->column($given);

        return $column === null ? [] : $this->nodes?->stepsOf($column) ?? [];
    }
}
