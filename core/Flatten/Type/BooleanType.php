<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;

/**
 * True or false; `read_as` names two words that stand for them, like "yes/no".
 */
final readonly class BooleanType implements ColumnType
{
    private string $yes;

    private string $no;

    public static function kind(): Kind
    {
        return new Kind('boolean', 'true or false', 'true, false, 1 or 0, or two words of its own.', [new Field('read_as', FieldType::Text, 'words', 'Two words with a slash between, the true one first.', example: 'true/false', shape: TypeFields::READ_AS)]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['read_as'] ?? null);
    }

    public function __construct(?string $readAs = null)
    {
        [$this->yes, $this->no] = explode('/', mb_strtolower($readAs ?? '/', 'UTF-8'), 2) + ['', ''];
    }

    public function convert(mixed $value): string|Unfit
    {
        $given = is_string($value) && $this->yes !== '' ? mb_strtolower(trim($value), 'UTF-8') : null;

        return match (true) {
            $value === true, $value === 'true', $value === 1, $value === '1', $given === $this->yes => '1',
            $value === false, $value === 'false', $value === 0, $value === '0', $given === $this->no => '0',
            is_array($value), is_object($value) => Unfit::structure($value),
            $value === '' => new Unfit('an empty string where true or false was expected'),
            default => new Unfit($this->yes === '' ? 'neither true nor false' : "neither {$this->yes} nor {$this->no}"),
        };
    }

    public function storage(): Storage
    {
        return Storage::Boolean;
    }

    public function name(): string
    {
        return 'boolean';
    }

    public function label(): string
    {
        return 'true or false';
    }
}
