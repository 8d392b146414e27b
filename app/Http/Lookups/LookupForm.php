<?php

declare(strict_types=1);

namespace App\Http\Lookups;

use App\Models\KeptColumn;
use App\Models\KeptTable;

/**
 * What the page of a lookup sends → an endpoint of a source file.
 */
final readonly class LookupForm
{
    /**
     * @param  array<string, mixed>  $form  bind (input → column, or "" for none, or "text"), text (input → text), carry (list of columns), prefix, not_found, rows, answers
     */
    public function __construct(private array $form)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    public function apply(array $endpoint, KeptTable $table): array
    {
        $inputs = $this->inputs($endpoint, $table);
        $lookup = array_filter([
            'not_found' => $this->text('not_found') === 'empty' ? 'empty' : null, 'rows' => $this->text('rows') === 'all' ? 'all' : null,
            'answers' => $this->text('answers') ?: null,
        ]);
        $keep = array_filter(['inputs' => $inputs, 'lookup' => $lookup], static fn (array $one): bool => $one !== []) + array_diff_key($endpoint['keep'] ?? [], ['inputs' => 1, 'lookup' => 1]);
        $endpoint = ['keep' => $keep] + $endpoint;
        if (isset($endpoint['flatten'])) {
            $endpoint['flatten'] = $this->carried($endpoint['flatten'], $table);
        }

        return $endpoint;
    }

    /**
     * Read as one list again.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    public static function none(array $endpoint): array
    {
        $inputs = array_filter($endpoint['keep']['inputs'] ?? [], static fn (mixed $value): bool => ! is_array($value) || ! isset($value['from']));
        $keep = ($inputs === [] ? [] : ['inputs' => $inputs]) + array_diff_key($endpoint['keep'] ?? [], ['inputs' => 1, 'lookup' => 1]);
        $endpoint = $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
        if (isset($endpoint['flatten'])) {
            $endpoint['flatten'] = self::withoutRows($endpoint['flatten']);
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function inputs(array $endpoint, KeptTable $table): array
    {
        $was = $endpoint['keep']['inputs'] ?? [];
        $inputs = [];
        foreach ($endpoint['ask']['inputs'] ?? [] as $input) {
            $name = $input['name'];
            $column = is_string($this->form['bind'][$name] ?? null) ? $this->form['bind'][$name] : '';
            $text = is_string($this->form['text'][$name] ?? null) ? trim($this->form['text'][$name]) : '';
            if ($text !== '') {
                $inputs[$name] = str_contains($text, '{') ? ['from' => ['table' => $table->given_name, 'text' => $text]] : $text;
            } elseif ($column !== '') {
                $inputs[$name] = ['from' => ['table' => $table->given_name, 'column' => $column]];
            } elseif (isset($was[$name]) && ! is_array($was[$name]) && ! array_key_exists($name, (array) ($this->form['text'] ?? []))) {
                $inputs[$name] = $was[$name];
            }
        }

        return $inputs;
    }

    /**
     * Columns of the row come first, and those of its key into the key.
     *
     * @param  array<string, mixed>  $flatten
     * @return array<string, mixed>
     */
    private function carried(array $flatten, KeptTable $table): array
    {
        $chosen = array_values(array_filter((array) ($this->form['carry'] ?? []), is_string(...)));
        $prefix = $this->text('prefix');
        $was = array_filter($flatten['columns'] ?? [], static fn (array $column): bool => isset($column['row']));
        $isSame = static fn (array $column, string $name): bool => $column['row'] === $name;
        $others = array_values(array_filter($flatten['columns'] ?? [], static fn (array $column): bool => ! isset($column['row'])));
        $taken = array_column($others, 'name');
        $columns = $key = [];
        foreach ($table->keptColumns() as $column) {
            if (! in_array($column->given, $chosen, true)) {
                continue;
            }
            $there = array_values(array_filter($was, static fn (array $one): bool => $isSame($one, $column->given)))[0] ?? null;
            $columns[] = $there === null || $prefix !== '' ? self::column($column, self::free($prefix.$column->given, [...$taken, ...array_column($columns, 'name')])) : $there;
            if (in_array($column->name, $table->key, true)) {
                $key[] = end($columns)['name'];
            }
        }
        $before = array_column($was, 'name');

        return ['key' => [...$key, ...array_values(array_diff($flatten['key'] ?? [], $before, $key))], 'columns' => [...$columns, ...$others]] + $flatten;
    }

    /**
     * @return array<string, mixed>
     */
    private static function column(KeptColumn $column, string $name): array
    {
        $type = $column->mask === 'none' ? $column->type : 'text';

        return ['name' => $name, 'row' => $column->given, 'type' => $type] + ($type === 'decimal' && $column->scale !== null ? ['scale' => $column->scale] : []);
    }

    /**
     * @param  list<string>  $taken
     */
    private static function free(string $name, array $taken): string
    {
        for ($free = $name, $number = 2; in_array($free, $taken, true); $number++) {
            $free = "row_$name".($number > 2 ? "_$number" : '');
        }

        return $free;
    }

    /**
     * @param  array<string, mixed>  $flatten
     * @return array<string, mixed>
     */
    private static function withoutRows(array $flatten): array
    {
        $gone = array_column(array_filter($flatten['columns'] ?? [], static fn (array $column): bool => isset($column['row'])), 'name');

        return ['key' => array_values(array_diff($flatten['key'] ?? [], $gone)), 'columns' => array_values(array_filter($flatten['columns'] ?? [], static fn (array $column): bool => ! isset($column['row'])))] + $flatten;
    }

    private function text(string $name): string
    {
        return is_string($this->form[$name] ?? null) ? trim($this->form[$name]) : '';
    }
}
