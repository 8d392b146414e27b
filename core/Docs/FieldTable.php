<?php

declare(strict_types=1);

namespace DeepSpring\Docs;

/**
 * A table of a documentation that lists fields: name, type, whether one has to be there, what it is, an
 * example. The first row is the head, as in Markdown, and says which column is which; where it does not, the
 * first column is the name, and the second the type where it looks like one.
 */
final readonly class FieldTable
{
    private const HEADS = [
        'name' => '/^(?:name|field|parameter|param|key|property|attribute|argument|header|column|element)s?(?: name)?$/i',
        'type' => '/^(?:(?:data )?type|format|kind|schema)$/i',
        'in' => '/^(?:in|location|where|located in|position)$/i',
        'required' => '/^(?:required|mandatory|presence|optional|use|necessity|req\.?)\??$/i',
        'example' => '/^(?:example|sample|e\.g\.|example value|value)s?$/i',
        'about' => '/^(?:description|about|meaning|notes?|comment|details|explanation|remarks?|what it is)s?$/i',
    ];

    private const TYPES = ['string' => 'text', 'text' => 'text', 'str' => 'text', 'char' => 'text', 'varchar' => 'text', 'uuid' => 'text', 'integer' => 'integer', 'int' => 'integer', 'int32' => 'integer', 'int64' => 'integer', 'long' => 'integer', 'number' => 'number', 'float' => 'number', 'double' => 'number', 'decimal' => 'number', 'money' => 'number', 'boolean' => 'boolean', 'bool' => 'boolean', 'date' => 'date', 'datetime' => 'datetime', 'date-time' => 'datetime', 'timestamp' => 'datetime', 'object' => 'json', 'array' => 'json', 'json' => 'json', 'list' => 'json'];

    private const MOST = 200;

    /**
     * @param  list<array{name: string, type: string, in: string, required: bool, example: string, about: string}>  $fields  type and place as inputs have them; the place is empty where the table does not say it
     */
    private function __construct(public array $fields)
    {
    }

    /**
     * @param  list<list<string>>  $rows  cells as they stand there, the head first
     */
    public static function of(array $rows): self
    {
        $heads = [];
        foreach ($rows[0] ?? [] as $place => $cell) {
            foreach (self::HEADS as $head => $pattern) {
                if (! isset($heads[$head]) && preg_match($pattern, trim($cell)) === 1) {
                    $heads[$head] = $place;

                    break;
                }
            }
        }
        if ($heads === []) {
            $heads = self::type($rows[1][1] ?? '') !== null ? ['type' => 1, 'about' => 2] : ['about' => 1];
        }
        $heads += ['name' => 0];
        foreach ($rows[0] ?? [] as $place => $cell) {
            // A column without a head says what a field is.
            if (trim($cell) === '' && ! in_array($place, $heads, true)) {
                $heads += ['about' => $place];
            }
        }
        $fields = [];
        foreach (array_slice($rows, 1, self::MOST) as $row) {
            $cell = static fn (string $head): string => isset($heads[$head]) ? trim($row[$heads[$head]] ?? '') : '';
            // A mark of being required often stands beside the name.
            $name = trim((string) preg_replace('/\s*(?:\*|\(?(?:required|optional)\)?)\s*$/i', '', $cell('name')));
            if (preg_match('/^[A-Za-z_$][\w.$\[\]-]{0,120}$/D', $name) !== 1 || isset($fields[$name])) {
                continue;
            }
            $required = $cell('required');
            $fields[$name] = [
                'name' => $name, 'type' => self::type($cell('type')) ?? 'text', 'in' => preg_match('/\b(path|query|header|cookie|body)\b/i', $cell('in'), $part) === 1 ? strtolower($part[1]) : '',
                'required' => preg_match('/^(?:yes|y|true|required|mandatory|always|x|✓|✔|1)\b|^[✓✔]/iu', $required) === 1 && preg_match('/optional/i', $rows[0][$heads['required'] ?? -1] ?? '') !== 1 || preg_match('/\*\s*$|\brequired\b/i', $cell('name')) === 1,
                'example' => $cell('example'), 'about' => mb_substr($cell('about'), 0, 500),
            ];
        }

        return new self(array_values($fields));
    }

    /**
     * An answer with these fields, as one types it by hand: a field a line, its name, type and example.
     */
    public function sample(): string
    {
        return implode("\n", array_map(static fn (array $field): string => rtrim("{$field['name']}  ".(['number' => 'number', 'integer' => 'integer', 'boolean' => 'boolean', 'date' => 'date', 'datetime' => 'datetime'][$field['type']] ?? 'text').'  '.str_replace("\n", ' ', $field['example'])), $this->fields));
    }

    /**
     * The endpoint with inputs for those fields that it has none for.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed>
     */
    public function asInputs(array $endpoint): array
    {
        $there = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        foreach ($this->fields as $field) {
            if (in_array($field['name'], $there, true)) {
                continue;
            }
            $isInPath = str_contains((string) ($endpoint['ask']['path'] ?? ''), '{'.$field['name'].'}');
            $in = $isInPath ? 'path' : ($field['in'] === '' || $field['in'] === 'path' ? 'query' : $field['in']);
            $endpoint['ask']['inputs'][] = ['name' => $field['name'], 'in' => $in] + ($field['type'] === 'text' ? [] : ['type' => $field['type']]) + ($field['required'] || $isInPath ? ['required' => true] : []) + ($field['example'] === '' ? [] : ['try' => $field['example']]) + ($field['about'] === '' ? [] : ['about' => $field['about']]);
        }

        return $endpoint;
    }

    private static function type(string $written): ?string
    {
        $word = strtolower((string) preg_replace('/[^A-Za-z0-9-].*$/s', '', trim($written)));

        return self::TYPES[$word] ?? null;
    }
}
