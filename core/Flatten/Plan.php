<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\TellsLoss;
use DeepSpring\Value\Moment\UnusablePattern;
use DeepSpring\Value\Phrase;

/**
 * How records become rows: a table, and its branches.
 */
final readonly class Plan
{
    public function __construct(public TablePlan $table)
    {
    }

    /**
     * @param  array<string, mixed>  $flatten  valid by the schema
     * @param  \DateTimeImmutable|null  $now  what expressions call now; the present without it
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     * @throws \DeepSpring\Expression\InvalidExpression
     * @throws UnusablePattern
     */
    public static function of(array $flatten, ?\DateTimeImmutable $now = null): self
    {
        return new self(TablePlan::of($flatten, $now));
    }

    /**
     * @return non-empty-list<TablePlan>
     */
    public function tables(): array
    {
        return $this->table->all();
    }

    /**
     * Tables of a `flatten` of a source file, in the same order, with the place of each in it.
     *
     * @param  array<string, mixed>  $flatten
     * @return array<string, array<string, mixed>> place, like "branches[0].branches[1]" and "" → table
     */
    public static function tablesIn(array $flatten, string $at = ''): array
    {
        $all = [$at => $flatten];
        foreach ($flatten['branches'] ?? [] as $number => $branch) {
            $all += self::tablesIn($branch, ($at === '' ? '' : "$at.")."branches[$number]");
        }

        return $all;
    }

    /**
     * What of values is missing in the rows that were made by this plan.
     *
     * @return list<string> a sentence each
     */
    public function losses(): array
    {
        $sentences = [];
        foreach ($this->tables() as $table) {
            foreach ($table->columns as $column) {
                foreach ($column->type instanceof TellsLoss ? $column->type->losses() : [] as $what => $times) {
                    $sentences[] = "{$table->name}.{$column->name}: ".Phrase::count($times, 'value')." had $what.";
                }
            }
        }

        return $sentences;
    }

    public function hasDecimals(): bool
    {
        foreach ($this->tables() as $table) {
            foreach ($table->columns as $column) {
                if ($column->type instanceof DecimalType) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * Whether some column reads from around the records.
     */
    public function readsEnvelope(): bool
    {
        foreach ($this->tables() as $table) {
            foreach ($table->columns as $column) {
                if ($column->source === ColumnSource::Envelope) {
                    return true;
                }
            }
        }

        return false;
    }

    public function isMasked(): bool
    {
        foreach ($this->tables() as $table) {
            foreach ($table->columns as $column) {
                if (! $column->isPlain()) {
                    return true;
                }
            }
        }

        return false;
    }
}
