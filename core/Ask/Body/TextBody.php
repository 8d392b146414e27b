<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\File;
use DeepSpring\Ask\InputType;
use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\Template;

/**
 * Text with `{name}` in it; in XML, values are escaped.
 */
final readonly class TextBody implements Body
{
    public function __construct(private string $text, private bool $isXml)
    {
    }

    public function encode(InputValues $values): Encoded
    {
        $bytes = (new Template($this->text))->fill(function (string $name) use ($values): string {
            $value = $values->input($name)->type === InputType::File && $values->isGiven($name) ? File::of($values->all($name)[0])->content ?? '' : $values->text($name);

            return $this->isXml ? self::escaped($name, $value) : $value;
        });

        return new Encoded($this->isXml ? 'application/xml' : 'text/plain; charset=utf-8', $bytes);
    }

    public function inputs(): array
    {
        return (new Template($this->text))->names();
    }

    public function faults(): array
    {
        $at = (new Template($this->text))->strayBrace();

        return $at === null ? [] : ['of' => "A brace stands alone at character $at; a literal brace is doubled."];
    }

    public function excused(array $filled): array
    {
        return [];
    }

    public function demanded(string $input, array $filled): ?string
    {
        return null;
    }

    /**
     * XML 1.0 §2.2 and §2.4; a carriage return as a reference, or reading would make it a line feed (§2.11).
     */
    private static function escaped(string $name, string $value): string
    {
        if (preg_match('/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u', $value) !== 0) {
            throw InvalidInput::because($name, 'it holds a character that XML cannot carry');
        }

        return strtr($value, ['&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '"' => '&quot;', "'" => '&#39;', "\r" => '&#13;', "\n" => '&#10;', "\t" => '&#9;']);
    }

    public function with(array $members): self
    {
        throw InvalidInput::because('body', 'a body that is text has no place for '.implode(' and ', array_keys($members)));
    }
}
