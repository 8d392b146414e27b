<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\InvalidInput;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * XML with `{name}` in it; values are escaped.
 */
final readonly class XmlBody implements Body
{
    use TextWithInputs;

    public static function kind(): Kind
    {
        return new Kind('xml', 'XML', 'XML text, such as a SOAP envelope.', [
            new Field('of', FieldType::Template, 'text', '`{name}` stands for an input, escaped for XML; a literal brace is doubled.', isRequired: true),
        ]);
    }

    private function contentType(): string
    {
        return 'application/xml';
    }

    /**
     * XML 1.0 §2.2 and §2.4; a carriage return as a reference, or reading would make it a line feed (§2.11).
     *
     * @throws InvalidInput
     */
    private function written(string $name, string $value): string
    {
        if (preg_match('/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u', $value) !== 0) {
            throw InvalidInput::because($name, 'it holds a character that XML cannot carry');
        }

        return strtr($value, ['&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '"' => '&quot;', "'" => '&#39;', "\r" => '&#13;', "\n" => '&#10;', "\t" => '&#9;']);
    }
}
