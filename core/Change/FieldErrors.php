<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Value\Phrase;

/**
 * What a service says against a change, field by field where it names fields: `errors` of RFC 9457 with pointers, lists
 * of a field and a problem, maps of fields to sentences, details of OData.
 */
final readonly class FieldErrors
{
    /** Names under which services list what is wrong. */
    private const LISTS = ['errors', 'invalid-params', 'invalid_params', 'details', 'violations', 'fieldErrors', 'validation_errors', 'issues'];

    private const FIELDS = ['pointer', 'field', 'name', 'path', 'target', 'property', 'propertyPath', 'param', 'attribute', 'source', 'parameter', 'loc'];

    private const TEXTS = ['detail', 'message', 'problem', 'reason', 'description', 'error', 'title', 'msg', 'code'];

    /**
     * @param  string  $text  of the whole; empty where nothing was said
     * @param  array<string, string>  $fields  place, like insurance.value → what is wrong with it
     */
    private function __construct(public string $text, public array $fields)
    {
    }

    public static function read(string $body): self
    {
        $document = json_decode($body, true);
        if (! is_array($document)) {
            $plain = trim(html_entity_decode(strip_tags($body)));

            return new self($plain !== '' && mb_check_encoding($plain, 'UTF-8') ? mb_strimwidth((string) preg_replace('/\s+/', ' ', $plain), 0, 300, '…') : '', []);
        }
        // OData puts all of it into "error" (OData JSON Format 4.01 §21).
        $inner = is_array($document['error'] ?? null) ? $document['error'] : $document;
        $fields = [];
        foreach (self::LISTS as $name) {
            self::collect($inner[$name] ?? null, $fields);
        }
        if (is_string($inner['target'] ?? null) && $inner['target'] !== '') {
            $fields += [self::place($inner['target']) => self::first($inner)];
        }

        return new self(self::first($inner), $fields);
    }

    /**
     * @param  array<string, string>  $fields
     */
    private static function collect(mixed $list, array &$fields): void
    {
        foreach (is_array($list) ? $list : [] as $name => $one) {
            if (is_string($name)) {
                // A map of fields to one sentence or several.
                $texts = array_filter(is_array($one) ? array_values($one) : [$one], is_string(...));
                $texts === [] ? null : $fields[self::place($name)] = implode('; ', $texts);

                continue;
            }
            $at = is_array($one) ? self::field($one) : null;
            $text = is_array($one) ? self::first($one) : '';
            if ($at !== null && $text !== '') {
                $fields[$at] = isset($fields[$at]) ? "$fields[$at]; $text" : $text;
            }
        }
    }

    /**
     * @param  array<array-key, mixed>  $one
     */
    private static function field(array $one): ?string
    {
        foreach (self::FIELDS as $name) {
            $value = $one[$name] ?? null;
            $value = is_array($value) ? ($value['pointer'] ?? $value['parameter'] ?? (array_is_list($value) ? implode('.', array_filter($value, is_scalar(...))) : null)) : $value;
            if (is_string($value) && $value !== '') {
                return self::place($value);
            }
        }

        return null;
    }

    /**
     * A JSON Pointer (RFC 6901), a JSONPath or a name with dots → names with dots.
     */
    private static function place(string $written): string
    {
        $plain = ltrim($written, '#$');
        $steps = str_contains($plain, '/') ? array_map(static fn (string $step): string => strtr(rawurldecode($step), ['~1' => '/', '~0' => '~']), explode('/', trim($plain, '/'))) : explode('.', (string) preg_replace('/\[(?:\'|")?([^\]\'"]*)(?:\'|")?\]/', '.$1', $plain));

        return implode('.', array_values(array_filter($steps, static fn (string $step): bool => $step !== '' && ! in_array($step, ['body', 'data', 'attributes'], true) || count($steps) === 1)));
    }

    /**
     * @param  array<array-key, mixed>  $one
     */
    private static function first(array $one): string
    {
        foreach (self::TEXTS as $name) {
            $value = is_array($one[$name] ?? null) ? ($one[$name]['value'] ?? null) : ($one[$name] ?? null);
            if (is_string($value) && trim($value) !== '') {
                return mb_strimwidth(trim($value), 0, 300, '…');
            }
        }

        return '';
    }

    /**
     * The same by columns, as far as the fields are known.
     *
     * @return array<string, string> column → sentence; "" for what belongs to none
     */
    public function byColumn(BoundEndpoint $bound): array
    {
        $known = [];
        foreach ($bound->columns as $input => $column) {
            $known[strtolower($input)] = $column;
            $known[strtolower(($bound->inputs()[$input] ?? null)?->wireName() ?? $input)] ??= $column;
        }
        foreach ($bound->places() as $place => $input) {
            isset($bound->columns[$input]) && $known[strtolower(substr($place, 2))] = $bound->columns[$input];
        }
        $found = [];
        $left = [];
        foreach ($this->fields as $place => $text) {
            $column = $known[strtolower($place)] ?? null;
            $column === null ? $left[] = "$place $text" : $found[$column] = isset($found[$column]) ? "$found[$column]; $text" : $text;
        }
        $whole = trim(implode('; ', array_filter([$found === [] || $left !== [] ? $this->text : '', ...array_slice($left, 0, 10), count($left) > 10 ? Phrase::count(count($left) - 10, 'more field') : ''])));

        return ($whole === '' ? [] : ['' => $whole]) + $found;
    }
}
