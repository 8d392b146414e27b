<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;

/**
 * Takes the values of masked columns out of an answer itself, so that evidence, samples and kept
 * pages hold no more than the tables do.
 */
final readonly class Concealing
{
    public function __construct(private Plan $plan, private AnswerDefinition $answer, private Masks $masks)
    {
    }

    /**
     * @return string|null the body with masks in it, everything else as it came; null when that cannot be done, and the body must not be kept
     */
    public function body(string $body, string $contentType): ?string
    {
        if (! $this->plan->isMasked() || trim($body) === '') {
            return $body;
        }
        try {
            $read = $this->answer->read($body, $contentType);
        } catch (\DeepSpring\Answer\UnreadableAnswer) {
            return null;
        }
        if ($read->json === null || $read->format !== 'json') {
            return null;
        }
        $digits = new Digits($read->json);

        return $digits->json($this->document($digits->document(), $digits));
    }

    /**
     * @param  Digits|null  $digits  that the document is of
     */
    public function document(mixed $document, ?Digits $digits = null): mixed
    {
        $path = $this->answer->records ?? null;
        $places = $path === null ? [[]] : array_map(static fn (JsonNode $node): array => $node->location->steps(), $path->nodes($document));
        foreach ($places as $steps) {
            $document = self::changed($document, $steps, fn (mixed $record): mixed => $this->table($this->plan->table, $record, $digits));
        }
        foreach ($this->plan->tables() as $table) {
            foreach ($table->columns as $column) {
                if ($column->source === ColumnSource::Envelope && ! $column->isPlain()) {
                    $document = $this->column($column, $document, $digits);
                }
            }
        }

        return $document;
    }

    private function table(TablePlan $table, mixed $record, ?Digits $digits): mixed
    {
        foreach ($table->columns as $column) {
            if ($column->source === ColumnSource::From && ! $column->isPlain()) {
                $record = $this->column($column, $record, $digits);
            }
        }
        foreach ($table->branches as $branch) {
            foreach ($branch->columns as $column) {
                if ($column->source === ColumnSource::Parent && ! $column->isPlain()) {
                    $record = $this->column($column, $record, $digits);
                }
            }
            foreach (array_map(static fn (JsonNode $node): array => $node->location->steps(), $branch->from?->nodes($record) ?? []) as $steps) {
                $record = self::changed($record, $steps, fn (mixed $element): mixed => $this->table($branch, $element, $digits));
            }
        }

        return $record;
    }

    private function column(Column $column, mixed $record, ?Digits $digits): mixed
    {
        foreach (array_map(static fn (JsonNode $node): array => $node->location->steps(), $column->path?->nodes($record) ?? []) as $steps) {
            $record = self::changed($record, $steps, fn (mixed $value): mixed => $this->masked($column, $digits === null ? $value : $digits->plain($value)));
        }

        return $record;
    }

    private function masked(Column $column, #[\SensitiveParameter] mixed $value): mixed
    {
        if ($value === null || is_string($value) && Masks::isMasked($value)) {
            return $value;
        }
        $fit = $column->type->convert($value);

        return is_string($fit) ? $this->masks->apply($column->mask, $fit) : Masks::REDACTED;
    }

    /**
     * @param  list<string|int>  $steps
     * @param  \Closure(mixed): mixed  $change
     */
    private static function changed(mixed $value, array $steps, \Closure $change): mixed
    {
        if ($steps === []) {
            return $change($value);
        }
        $step = array_shift($steps);
        if ($value instanceof \stdClass && property_exists($value, (string) $step)) {
            $value = clone $value;
            $value->{$step} = self::changed($value->{$step}, $steps, $change);
        } elseif (is_array($value) && array_key_exists($step, $value)) {
            $value[$step] = self::changed($value[$step], $steps, $change);
        }

        return $value;
    }
}
