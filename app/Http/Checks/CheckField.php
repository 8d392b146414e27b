<?php

declare(strict_types=1);

namespace App\Http\Checks;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * One setting of a check, as the page shows it.
 */
final readonly class CheckField
{
    public string $label;

    public string $help;

    public string $example;

    public string $width;

    /** Whether it is chosen from the columns of the table. */
    public bool $isColumn;

    public bool $isNumber;

    public function __construct(Field $field, public string $id, public string $name, public string $value)
    {
        $this->label = $field->label;
        $this->help = $field->help;
        $this->example = $field->example;
        $this->isColumn = $field->type === FieldType::Column;
        $this->isNumber = in_array($field->type, [FieldType::Number, FieldType::Percent], true);
        $this->width = match (true) {
            $this->isNumber => '!w-20',
            in_array($field->type, [FieldType::Columns, FieldType::Values, FieldType::Condition], true) => '!w-full',
            $field->type === FieldType::Scalar => '!w-28',
            default => '!w-44',
        };
    }
}
