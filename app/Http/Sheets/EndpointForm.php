<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use DeepSpring\Ask\Does;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * What the sheet of an endpoint sends → the endpoint of a source file. What the form does not show
 * stays as the document has it.
 *
 * @phpstan-type Row array<string, mixed>
 */
final readonly class EndpointForm
{
    /**
     * @param  array<string, mixed>  $endpoint  as the document has it
     */
    public function __construct(private array $endpoint)
    {
    }

    /**
     * @param  array<string, mixed>  $form
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile when a text in it cannot be read
     */
    public function apply(array $form): array
    {
        $endpoint = $this->endpoint;
        $endpoint['name'] = self::text($form, 'name') ?: $endpoint['name'];
        if (Does::tryFrom(self::text($form, 'does')) !== null) {
            $endpoint['does'] = self::text($form, 'does');
        }
        $endpoint['ask'] = $this->ask($form, $endpoint['ask']);
        $answer = $endpoint['answer'] ?? [];
        $records = self::text($form, 'records');
        $endpoint['answer'] = $records === '' ? array_diff_key($answer, ['records' => 1]) : ['records' => $records] + $answer;
        if ($endpoint['answer'] === []) {
            unset($endpoint['answer']);
        }
        if (isset($form['onward']) && is_array($form['onward'])) {
            $onward = OnwardForm::apply($form['onward'], $endpoint['onward'] ?? []);
            if (isset($endpoint['onward']) || $onward !== ['style' => 'none']) {
                $endpoint['onward'] = $onward;
            }
        }
        if (isset($form['tables']) && is_array($form['tables'])) {
            $endpoint['flatten'] = $this->flatten($form['tables'], $endpoint['flatten'] ?? []);
            if ($endpoint['flatten'] === []) {
                unset($endpoint['flatten']);
            }
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $ask
     * @return array<string, mixed>
     */
    private function ask(array $form, array $ask): array
    {
        $ask['path'] = self::text($form, 'path');
        if (in_array(self::text($form, 'method'), ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE'], true)) {
            $ask['method'] = self::text($form, 'method');
        }
        $inputs = [];
        foreach (self::rows($form, 'inputs') as $row) {
            if (self::text($row, 'name') !== '') {
                $inputs[] = $this->input($row, self::text($row, 'was') === '' ? [] : ($ask['inputs'][(int) self::text($row, 'was')] ?? []));
            }
        }
        $ask['inputs'] = $inputs;
        if (isset($form['headers_text']) && is_string($form['headers_text'])) {
            $ask['headers'] = self::headers($form['headers_text']);
        }
        if (isset($form['body']) && is_array($form['body'])) {
            $ask['body'] = BodyForm::apply($form['body'], $ask['body'] ?? null);
        }

        return array_filter($ask, static fn (mixed $value, string $name): bool => ! in_array($name, ['inputs', 'headers', 'body'], true) || $value !== [] && $value !== null, ARRAY_FILTER_USE_BOTH);
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function input(array $row, array $was): array
    {
        $input = ['name' => self::text($row, 'name'), 'in' => self::text($row, 'in')] + $was;
        $input = array_diff_key($input, ['fixed' => 1, 'try' => 1, 'type' => 1, 'required' => 1]);
        $type = self::text($row, 'type');
        $input += $type === '' || ($type === 'text' && ! isset($was['type'])) ? [] : ['type' => $type];
        $isFixed = self::text($row, 'filled') === 'fixed';
        if (isset($row['details'])) {
            $input = array_diff_key($input, ['default' => 1, 'choices' => 1, 'many' => 1, 'private' => 1, 'about' => 1, 'send_empty' => 1]);
            $choices = array_values(array_filter(array_map(trim(...), explode(',', self::text($row, 'choices'))), static fn (string $one): bool => $one !== ''));
            $input += (self::text($row, 'many') === '' ? [] : ['many' => self::text($row, 'many')])
                + (self::text($row, 'default') === '' ? [] : ['default' => self::asBefore($was['default'] ?? null, self::several(self::text($row, 'default'), self::text($row, 'many')))])
                + ($choices === [] ? [] : ['choices' => self::asBefore($was['choices'] ?? null, $choices)])
                + (self::text($row, 'about') === '' ? [] : ['about' => self::text($row, 'about')])
                + (self::text($row, 'private') === '1' ? ['private' => true] : [])
                + (self::text($row, 'send_empty') === '1' ? ['send_empty' => true] : []);
        }
        // A text may begin with blanks that are meant, so it is taken as it is.
        $value = is_string($row['value'] ?? null) ? $row['value'] : '';
        $values = self::several($value, $input['many'] ?? '');
        if (is_string($values)) {
            $values = match (true) {
                $type === 'integer' && preg_match('/^-?(?:0|[1-9]\d{0,14})$/D', $values) === 1 => (int) $values,
                $type === 'boolean' && in_array($values, ['true', 'false'], true) => $values === 'true',
                default => $values,
            };
        }
        $input += $isFixed ? ['fixed' => self::asBefore($was['fixed'] ?? null, $values)] : ($value === '' ? [] : ['try' => self::asBefore($was['try'] ?? null, $values)]);
        $required = isset($row['details']) ? self::text($row, 'required') === '1' : ($was['required'] ?? false) === true;
        if ($input['in'] === 'path' || $required && ! $isFixed) {
            $input['required'] = true;
        }

        return $input;
    }

    /**
     * @return string|list<string>
     */
    private static function several(string $value, string $many): string|array
    {
        return $many === '' || $value === '' ? $value : array_map(trim(...), explode(',', $value));
    }

    /**
     * Lines of `name: value`.
     *
     * @return array<string, string>
     *
     * @throws InvalidSourceFile
     */
    private static function headers(string $text): array
    {
        $headers = [];
        foreach (preg_split('/\r?\n/', trim($text)) ?: [] as $line) {
            if (trim($line) === '') {
                continue;
            }
            if (preg_match('/^\s*([^:\s]+)\s*:\s*(.*?)\s*$/', $line, $part) !== 1) {
                throw InvalidSourceFile::because([new Fault('endpoints[0].ask.headers', "\"$line\" is no header: a name, a colon and a value.")]);
            }
            $headers[$part[1]] = $part[2];
        }

        return $headers;
    }

    /**
     * @param  array<array-key, mixed>  $tables  the main one first
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function flatten(array $tables, array $was): array
    {
        $flatten = [];
        foreach (array_values(array_filter($tables, is_array(...))) as $number => $form) {
            $old = $number === 0 ? $was : ($was['branches'][(int) self::text($form, 'was')] ?? []);
            $table = $this->table($form, $old);
            if ($number === 0) {
                $flatten = $table;
            } elseif ($table['columns'] !== []) {
                $flatten['branches'][] = $table;
            }
        }

        return ($flatten['columns'] ?? []) === [] ? [] : $flatten;
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function table(array $form, array $was): array
    {
        $columns = [];
        $key = [];
        foreach (self::rows($form, 'columns') as $row) {
            $name = self::text($row, 'name');
            $from = trim(self::text($row, 'from'));
            if ($name === '' && $from === '') {
                continue;
            }
            $old = self::text($row, 'was') === '' ? [] : ($was['columns'][(int) self::text($row, 'was')] ?? []);
            $columns[] = $this->column($row, $name, $from, $old);
            if (self::text($row, 'key') === '1') {
                $key[] = $name;
            }
        }
        $table = ['table' => self::text($form, 'table')];
        if (isset($was['from'])) {
            $table['from'] = self::text($form, 'from') ?: $was['from'];
        }

        return $table + ['key' => $key, 'columns' => $columns] + array_diff_key($was, ['branches' => isset($was['branches']), 'key' => 1, 'columns' => 1, 'table' => 1]);
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function column(array $row, string $name, string $from, array $was): array
    {
        $column = array_diff_key($was, ['name' => 1, 'from' => 1, 'parent' => 1, 'position' => 1, 'input' => 1, 'type' => 1]);
        $source = match (true) {
            $from === 'position' => ['position' => 1],
            preg_match('/^parent\s+(\$.*)$/sD', $from, $part) === 1 => ['parent' => $part[1]],
            preg_match('/^input\s+(\S+)$/D', $from, $part) === 1 => ['input' => $part[1]],
            default => ['from' => str_starts_with($from, '$') ? $from : '$.'.$from],
        };
        $type = self::text($row, 'type') ?: 'text';
        $column = ['name' => $name] + $source + ['type' => $type] + $column;
        foreach (['many', 'with', 'on_bad', 'zone', 'read_as'] as $field) {
            if (array_key_exists($field, $row)) {
                $value = is_string($row[$field]) ? $row[$field] : '';
                if ($value === '') {
                    unset($column[$field]);
                } else {
                    $column[$field] = $value;
                }
            }
        }
        if ($type === 'decimal') {
            $column['scale'] = preg_match('/^\d{1,2}$/D', self::text($row, 'scale')) === 1 ? (int) self::text($row, 'scale') : ($was['scale'] ?? 2);
        } else {
            unset($column['scale']);
        }
        if ($type !== 'datetime') {
            unset($column['zone'], $column['read_as']);
        }

        return $column;
    }

    /**
     * What stands in the field "from" for a column of the document.
     *
     * @param  array<string, mixed>  $column
     */
    public static function fromOf(array $column): string
    {
        return match (true) {
            isset($column['position']) => 'position',
            isset($column['parent']) => 'parent '.$column['parent'],
            isset($column['input']) => 'input '.$column['input'],
            default => (string) ($column['from'] ?? ''),
        };
    }

    /**
     * A value that reads as it did keeps the type it had in the document.
     *
     * @param  string|int|bool|list<string>  $now
     */
    private static function asBefore(mixed $was, string|int|bool|array $now): mixed
    {
        if (is_int($now) || is_bool($now)) {
            return $was !== null && ! is_array($was) && (string) json_encode($was) === (string) json_encode($now) ? $was : $now;
        }
        $text = static fn (mixed $one): string => is_bool($one) ? var_export($one, true) : (is_scalar($one) ? (string) $one : '');
        $same = is_array($was) && is_array($now) ? array_map($text, array_values($was)) === $now : ($was !== null && ! is_array($was) && $text($was) === $now);

        return $same ? $was : $now;
    }

    /**
     * @param  array<string, mixed>  $form
     */
    private static function text(array $form, string $name): string
    {
        return is_string($form[$name] ?? null) ? trim($form[$name]) : '';
    }

    /**
     * @param  array<string, mixed>  $form
     * @return list<array<string, mixed>>
     */
    private static function rows(array $form, string $name): array
    {
        return array_values(array_filter(is_array($form[$name] ?? null) ? $form[$name] : [], is_array(...)));
    }
}
