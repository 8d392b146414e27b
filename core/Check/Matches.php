<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A text that has a form. The whole value has to match, as in `match()` of RFC 9535 §2.4.6.
 */
final readonly class Matches implements CheckRule
{
    use OfRows;

    private function __construct(private string $column, public string $pattern)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('matches', 'matches', 'A text that matches a regular expression, as a whole.', [
            new Field('matches', FieldType::Column, 'column', 'Name of a column.', isRequired: true, example: 'number'),
            new Field('pattern', FieldType::Raw, 'pattern', 'The regular expression (PCRE2) that the whole value matches.', isRequired: true, example: 'SC-\d{5}', shape: ['type' => 'string', 'maxLength' => 500]),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $column = $table->plainColumn($settings['matches'], 'matches');
        $pattern = (string) ($settings['pattern'] ?? '');
        if (! in_array($column->kept->storage(), [Storage::Text, Storage::FixedText], true)) {
            throw InvalidCheck::because('matches', "\"$column->name\" holds no text, so it has no form. A range says which values it may have.");
        }
        if ($pattern === '' || @preg_match(self::whole($pattern), '') === false) {
            throw InvalidCheck::because('pattern', $pattern === '' ? 'Say which form, as a regular expression.' : "\"$pattern\" is no regular expression: ".lcfirst((string) preg_replace('/^preg_match\(\): (Compilation failed: )?/', '', error_get_last()['message'] ?? 'it cannot be read')).'.');
        }

        return new self($column->name, $pattern);
    }

    private static function whole(string $pattern): string
    {
        return "\x01\\A(?:$pattern)\\z\x01u";
    }

    public function holds(string $value): bool
    {
        return preg_match(self::whole($this->pattern), $value) === 1;
    }

    public function words(): string
    {
        return "$this->column matches $this->pattern";
    }

    public function columns(): array
    {
        return [$this->column];
    }

    private function sentence(Found $found): string
    {
        return "{$found->some()} of $found->table ".($found->broken === 1 ? 'holds' : 'hold')." a value in $this->column that does not match $this->pattern";
    }
}
