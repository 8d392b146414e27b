<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * Rows as JSON objects, each value as `FeedValue` writes it. What does not depend on the row is made once.
 */
final readonly class RowJson
{
    private const FLAGS = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE;

    /** @var list<array{string, string, FeedColumn}> what stands before the value, how it is written, its column */
    private array $members;

    /**
     * @param  list<FeedColumn>  $columns
     * @param  bool  $asTexts  whether whole numbers and decimals are texts
     * @param  bool  $jsonAsText  whether JSON is a text, in a model that knows its types beforehand
     */
    public function __construct(array $columns, private bool $asTexts = false, bool $jsonAsText = false)
    {
        $this->members = array_map(static fn (int $place, FeedColumn $column): array => [($place === 0 ? '{"' : ',"').$column->name.'":', match (true) {
            ! $asTexts && in_array($column->type, ['integer', 'decimal'], true) => 'bare',
            in_array($column->type, ['date', 'uuid'], true) || $asTexts && in_array($column->type, ['integer', 'decimal'], true) => 'quoted',
            in_array($column->type, ['float', 'boolean', 'datetime', 'time'], true), $column->type === 'json' && ! $jsonAsText => 'other',
            default => 'text',
        }, $column], array_keys($columns), $columns);
    }

    /**
     * @param  list<string|null>  $row  as the database gives it
     */
    public function object(array $row): string
    {
        $text = '';
        foreach ($this->members as $place => [$before, $how, $column]) {
            $value = $row[$place];
            if ($value === null) {
                $text .= $before.'null';
            } elseif ($how === 'bare') {
                $text .= $before.$value;
            } elseif ($how === 'text') {
                $text .= $before.json_encode($value, self::FLAGS);
            } elseif ($how === 'quoted') {
                $text .= "$before\"$value\"";
            } else {
                $text .= $before.FeedValue::json($column, $value, $this->asTexts);
            }
        }

        return $text === '' ? '{}' : "$text}";
    }
}
