<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Ask\Body\Body;
use DeepSpring\Ask\Body\TextWithInputs;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A body that nobody has: a text with a number before each line.
 */
final readonly class LinesBody implements Body
{
    use TextWithInputs;

    public static function kind(): Kind
    {
        return new Kind('lines', 'Numbered lines', 'A text with numbers before its lines.', [
            new Field('of', FieldType::Template, 'text', '`{name}` stands for an input, in small letters.', isRequired: true),
            new Field('from_zero', FieldType::Flag, 'count from zero', 'Whether the first line has the number 0.', default: false),
        ]);
    }

    private function contentType(): string
    {
        return 'text/x-lines';
    }

    private function written(string $name, string $value): string
    {
        return strtolower($value);
    }
}
