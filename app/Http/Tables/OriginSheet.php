<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\Run;
use App\Runs\RowOrigin;
use App\Runs\RowOrigins;
use App\View\MarkedJson;
use DeepSpring\Answer\JsonPath\Location;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\ManyValues;
use DeepSpring\Flatten\Mask\ColumnMask;
use DeepSpring\Value\JsonText;
use Illuminate\Support\HtmlString;

/**
 * A row of a kept table, and where each of its values was read.
 */
final readonly class OriginSheet
{
    /** @var list<KeptColumn> */
    public array $columns;

    /** Runs that came after the one whose answers are kept. */
    public int $later;

    public KeptColumn $column;

    /**
     * @param  array<string, string|null>  $row  as it is kept
     * @param  string  $mark  of the row
     */
    public function __construct(public KeptTable $table, public RowOrigin $origin, public array $row, string $column, public string $mark, public bool $seesAnswer)
    {
        $this->columns = $table->keptColumns();
        $named = array_values(array_filter($this->columns, static fn (KeptColumn $one): bool => $one->name === $column));
        $this->column = $named[0] ?? $this->columns[0];
        $this->later = $origin->run === null ? 0 : Run::query()->where(['endpoint_id' => $table->endpoint_id, 'environment_id' => $table->environment_id, 'state' => 'done'])->where('id', '>', $origin->run->id)->count();
    }

    /**
     * What made a value what it is, in a sentence.
     */
    public function story(KeptColumn $kept): string
    {
        $column = $this->origin->column($kept->given);
        if ($column === null) {
            return $kept->from === '' ? 'how it was made is not known' : "from $kept->from, as $kept->label";
        }
        $of = $this->table->is_branch ? 'the element' : 'the record';
        $from = match ($column->source) {
            ColumnSource::From => "$column->path of $of",
            ColumnSource::Parent => "$column->path of the record around it".($column->up > 0 ? ', '.($column->up + 1).' levels up' : ''),
            ColumnSource::Envelope => "$column->path of what stands around the records",
            ColumnSource::Input => "the input $column->input, which was sent",
            ColumnSource::Row => "$column->input of the row it was asked for",
            ColumnSource::Member => 'the name under which it stands',
            ColumnSource::Position => 'its place in the list, from 1',
            ColumnSource::Compute => 'computed: '.$column->expression?->text,
        };

        return $from.self::many($column).", as $kept->label".match ($column->mask) {
            ColumnMask::None => '', ColumnMask::Hash => '; kept as a hash', ColumnMask::Redact => '; kept without the value', ColumnMask::Encrypt => '; kept encrypted',
        };
    }

    private static function many(Column $column): string
    {
        return $column->single ? '' : match ($column->many) {
            ManyValues::First => ', the first of several', ManyValues::Last => ', the last of several', ManyValues::Count => ', how many there are', ManyValues::Join => ", several joined with \"$column->with\"", ManyValues::Json => ', all of them as JSON',
        };
    }

    /**
     * Where a value stands in the answer.
     *
     * @return list<string> as normalized paths (RFC 9535, 2.7)
     */
    public function paths(KeptColumn $kept): array
    {
        $place = $this->origin->place;

        return $place === null ? [] : array_map(static fn (array $steps): string => '$'.implode('', array_map(Location::short(...), $place->inDocument($steps))), $this->origin->steps($kept->given));
    }

    /**
     * What the kept answer makes of the column, where that is something else than what is kept now.
     */
    public function differs(KeptColumn $kept): ?string
    {
        $column = $this->origin->column($kept->given);
        if ($this->origin->made === null || $column === null || in_array($column->source, [ColumnSource::Position, ColumnSource::Row, ColumnSource::Input], true) || $column->mask === ColumnMask::Encrypt) {
            return null;
        }
        $made = $this->origin->madeOf($kept->given);

        return RowOrigins::areSame($column, $this->row[$kept->name] ?? null, $made) ? null : ($made ?? 'empty');
    }

    /**
     * Columns whose values are looked at: the chosen one, or those that it is computed from.
     *
     * @return list<KeptColumn>
     */
    private function marked(): array
    {
        $expression = $this->origin->column($this->column->given)?->expression?->text;

        return $expression === null ? [$this->column] : array_values(array_filter($this->columns, static fn (KeptColumn $one): bool => preg_match('/(?<!\w)'.preg_quote($one->given, '/').'(?!\w)/', $expression) === 1));
    }

    /**
     * The record with the chosen value marked.
     */
    public function record(): HtmlString
    {
        $steps = array_merge([], ...array_map(fn (KeptColumn $one): array => $this->origin->steps($one->given), $this->marked()));

        return MarkedJson::html($this->origin->record, $steps === [] && $this->origin->nodes !== null ? [$this->origin->nodes->steps()] : $steps);
    }

    /**
     * The chosen value as it stands in the answer, where it is a single one.
     */
    public function written(): ?string
    {
        $steps = $this->origin->steps($this->column->given);
        if (count($steps) !== 1) {
            return null;
        }
        $value = $this->origin->record;
        foreach ($steps[0] as $step) {
            $value = is_array($value) ? $value[$step] ?? null : ($value instanceof \stdClass ? $value->{$step} ?? null : null);
        }

        return is_array($value) || $value instanceof \stdClass ? null : ($value instanceof JsonText ? $value->json : (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION));
    }

    public function title(): string
    {
        $key = $this->table->key;
        $said = $key === [] ? '' : implode(', ', array_map(fn (string $name): string => "$name ".($this->row[$name] ?? '—'), $key));

        return $said === '' ? 'A row without a key' : $said;
    }
}
