<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\Method;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;

/**
 * What the sheet of an endpoint sends → the endpoint of a source file. What the form does not show
 * stays as the document has it.
 *
 * In one piece, since it has one method for each part of the form, each over what the others left.
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
        if (! array_key_exists('path', $form)) {
            // Whatever this is, it is not the sheet, and nothing of the sheet is to be read from it.
            return $endpoint;
        }
        $endpoint['name'] = self::text($form, 'name') ?: $endpoint['name'];
        if (EndpointRole::tryFrom(self::text($form, 'does')) !== null) {
            $endpoint['does'] = self::text($form, 'does');
        }
        $endpoint['ask'] = $this->ask($form, $endpoint['ask']);
        $answer = $endpoint['answer'] ?? [];
        $records = self::text($form, 'records');
        $names = self::text($form, 'row_names');
        $where = match (true) {
            $records === '' => [],
            $names !== '' => ['rows' => ['names' => $names, 'data' => $records]],
            default => ['records' => $records],
        };
        $endpoint['answer'] = $where + array_diff_key($answer, isset($form['row_names']) || $records !== '' ? ['records' => 1, 'rows' => 1] : ['records' => 1]);
        if (isset($form['format']) && is_array($form['format'])) {
            $endpoint['answer'] = FormatForm::apply($form['format'], $endpoint['answer']);
        }
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
        $endpoint = is_array($form['refresh'] ?? null) ? RefreshForm::apply($form['refresh'], $endpoint) : $endpoint;
        $endpoint = is_array($form['history'] ?? null) ? HistoryForm::apply($form['history'], $endpoint) : $endpoint;

        return KeptInputs::following($this->endpoint, $this->keptWith($form, $endpoint));
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function keptWith(array $form, array $endpoint): array
    {
        $typed = $form['keep_inputs'] ?? null;
        if (! is_array($typed)) {
            return $endpoint;
        }
        $kept = $endpoint['keep']['inputs'] ?? [];
        foreach ($this->endpoint['ask']['inputs'] ?? [] as $input) {
            $text = is_string($typed[$input['name']] ?? null) ? $typed[$input['name']] : null;
            if ($text === null || trim(str_replace("\r", '', $text)) === KeptInputs::text($kept[$input['name']] ?? null)) {
                continue;
            }
            $kept[$input['name']] = KeptInputs::read($text, isset($input['many']));
        }

        return KeptInputs::put($endpoint, array_filter($kept, static fn (mixed $value): bool => $value !== null));
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $ask
     * @return array<string, mixed>
     */
    private function ask(array $form, array $ask): array
    {
        $ask['path'] = self::text($form, 'path');
        if (Method::isOne(self::text($form, 'method'))) {
            $ask['method'] = self::text($form, 'method');
        }
        foreach (is_array($form['base'] ?? null) ? $form['base'] : [] as $environment => $base) {
            $ask['base'] = (trim(is_string($base) ? $base : '') === '' ? [] : [(string) $environment => trim($base)]) + array_diff_key($ask['base'] ?? [], [$environment => 1]);
            $ask = (self::text($form, 'base_access') === '1' ? ['access' => 'source'] : []) + array_diff_key($ask, ['access' => 1]);
        }
        $ask = ($ask['base'] ?? []) === [] ? array_diff_key($ask, ['base' => 1, 'access' => 1]) : $ask;
        $inputs = [];
        foreach (self::rows($form, 'inputs') as $row) {
            if (self::text($row, 'name') !== '') {
                $inputs[] = InputForm::apply($row, self::text($row, 'was') === '' ? [] : ($ask['inputs'][(int) self::text($row, 'was')] ?? []), count($inputs));
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
     * @param  array<array-key, mixed>  $tables  by their number, the main one first; one that is missing is left out
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function flatten(array $tables, array $was): array
    {
        if ($was === []) {
            $form = is_array($tables[0] ?? null) ? $this->table($tables[0], []) : ['columns' => []];

            return $form['columns'] === [] ? [] : $form;
        }

        return FlattenTables::each($was, function (array $old, int $number) use ($tables): ?array {
            $table = is_array($tables[$number] ?? null) ? $this->table($tables[$number], $old) : null;

            return $table === null || $table['columns'] === [] ? null : $table;
        });
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
        $where = array_key_exists('where', $form) ? self::text($form, 'where') : (string) ($was['where'] ?? '');
        $rest = array_diff_key($was, ['key' => 1, 'columns' => 1, 'table' => 1, 'where' => 1, 'from' => 1]);

        return $table + ['key' => $key] + ($where === '' ? [] : ['where' => $where]) + ['columns' => $columns] + $rest;
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function column(array $row, string $name, string $from, array $was): array
    {
        $column = array_diff_key($was, ['name' => 1, 'from' => 1, 'parent' => 1, 'envelope' => 1, 'member' => 1, 'position' => 1, 'input' => 1, 'row' => 1, 'compute' => 1, 'up' => 1, 'type' => 1]);
        $source = self::sourceOf($from);
        $type = self::text($row, 'type') ?: ($was['type'] ?? (isset($source['compute']) ? '' : 'text'));
        $column = ['name' => $name] + $source + ($type === '' ? [] : ['type' => $type]) + $column;
        foreach (['many', 'with', 'on_bad', 'zone', 'read_as', 'mask', 'title', 'unit', 'comment'] as $field) {
            if (array_key_exists($field, $row)) {
                $value = is_string($row[$field]) ? $row[$field] : '';
                if ($value === '' || $field === 'mask' && $value === 'none' || $field === 'on_bad' && $value === 'reject-value') {
                    unset($column[$field]);
                } else {
                    $column[$field] = $value;
                }
            }
        }
        if ($type === 'decimal') {
            $column['scale'] = preg_match('/^\d{1,2}$/D', self::text($row, 'scale')) === 1 ? (int) self::text($row, 'scale') : ($was['scale'] ?? 2);
        } else {
            unset($column['scale'], $column['precision']);
        }
        if ($type !== 'datetime') {
            unset($column['zone']);
        }
        // How the values of one type are written says nothing of another.
        if ($type !== ($was['type'] ?? $type) && ! array_key_exists('read_as', $row) || in_array($type, ['text', 'uuid'], true)) {
            unset($column['read_as']);
        }

        return $column;
    }

    /**
     * One column with what was set of it.
     *
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    public function columnOf(array $form, array $was): array
    {
        return $this->column($form, $was['name'], self::text($form, 'from') ?: self::fromOf($was), $was);
    }

    /**
     * What is typed as the source of a column.
     *
     * @return array<string, mixed>
     */
    public static function sourceOf(string $from): array
    {
        $up = preg_match('/\s+up\s+([1-8])$/D', $from, $part) === 1 ? ['up' => (int) $part[1]] : [];
        $bare = $up === [] ? $from : substr($from, 0, -strlen($part[0]));

        return match (true) {
            $bare === 'position' => ['position' => 1] + $up,
            $bare === 'member' => ['member' => true] + $up,
            preg_match('/^parent\s+(\$.*)$/sD', $bare, $found) === 1 => ['parent' => $found[1]] + $up,
            preg_match('/^envelope\s+(\$.*)$/sD', $from, $found) === 1 => ['envelope' => $found[1]],
            preg_match('/^input\s+(\S+)$/D', $from, $found) === 1 => ['input' => $found[1]],
            preg_match('/^row\s+(\S.*)$/D', $from, $found) === 1 => ['row' => $found[1]],
            str_starts_with($from, '=') => ['compute' => trim(substr($from, 1))],
            default => ['from' => str_starts_with($from, '$') ? $from : '$.'.$from],
        };
    }

    /**
     * What stands in the field "from" for a column of the document.
     *
     * @param  array<string, mixed>  $column
     */
    public static function fromOf(array $column): string
    {
        $up = isset($column['up']) && $column['up'] > 0 ? " up {$column['up']}" : '';

        return match (true) {
            isset($column['position']) => "position$up",
            isset($column['member']) => "member$up",
            isset($column['parent']) => "parent {$column['parent']}$up",
            isset($column['envelope']) => 'envelope '.$column['envelope'],
            isset($column['input']) => 'input '.$column['input'],
            isset($column['row']) => 'row '.$column['row'],
            isset($column['compute']) => '= '.$column['compute'],
            default => (string) ($column['from'] ?? ''),
        };
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
