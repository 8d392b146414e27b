<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Text with `{name}` in it.
 */
final readonly class TextBody implements Body
{
    use TextWithInputs;

    public static function kind(): Kind
    {
        return new Kind('text', 'Text', 'Any text, sent as it stands.', [
            new Field('of', FieldType::Template, 'text', '`{name}` stands for an input; a literal brace is doubled.', isRequired: true),
        ]);
    }

    private function contentType(): string
    {
        return 'text/plain; charset=utf-8';
    }

    private function written(string $name, string $value): string
    {
        return $value;
    }
}
