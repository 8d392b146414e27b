<?php

declare(strict_types=1);

namespace App\Http\Checks;

use DeepSpring\Check\Checks;
use DeepSpring\Check\TableCheck;
use DeepSpring\Value\Kind\Field;

/**
 * One check as the page shows it.
 */
final readonly class CheckRow
{
    public string $title;

    public string $help;

    /** @var list<CheckField> */
    public array $fields;

    /** @var array<string, string> what becomes of rows that break it → in words */
    public array $acts;

    /**
     * @param  int  $number  on the page, from 0
     * @param  string  $was  its number in the document; "" for a new one
     * @param  array<string, string>  $values  of its fields
     * @param  list<string>  $columns  of its table
     */
    public function __construct(public int $number, public string $was, public string $kind, public string $table, public string $on, array $values, public array $columns)
    {
        $of = Checks::family()->kind($kind);
        $this->title = $of->title ?? $kind;
        $this->help = $of->help ?? '';
        $fields = array_merge(...array_map(static fn (Field $field): array => $field->parts === [] ? [$field] : $field->parts, $of->fields ?? []), ...[[]]);
        $this->fields = array_map(static fn (Field $field): CheckField => new CheckField($field, "check-$number-$field->name", "checks[$number][$field->name]", $values[$field->name] ?? ''), $fields);
        $class = Checks::family()->class($kind);
        $this->acts = array_diff_key(TableCheck::WORDS, $class !== null && in_array($kind, self::WHOLE, true) ? [TableCheck::DROP => 1] : []);
    }

    /** Kinds that no single row breaks. */
    private const WHOLE = ['rows', 'newest'];
}
