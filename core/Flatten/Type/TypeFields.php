<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\WrittenNumber;

/**
 * Settings that several column types have in common.
 */
final class TypeFields
{
    public const READ_AS = ['type' => 'string', 'minLength' => 1, 'maxLength' => 60];

    public static function writtenLike(): Field
    {
        $forms = array_keys(WrittenNumber::FORMS);

        return new Field('read_as', FieldType::Choice, 'format', 'How the number is written, where it is a text.', choices: ['' => '1234.5'] + array_combine($forms, $forms), shape: self::READ_AS);
    }

    public static function format(): Field
    {
        return new Field('read_as', FieldType::Text, 'format', 'iso, epoch, epoch-ms, odata-v2, rfc2822, or a pattern.', default: 'iso', example: 'iso, epoch, dd.MM.yyyy', shape: self::READ_AS);
    }
}
