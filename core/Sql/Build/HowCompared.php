<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

/**
 * How a column is compared.
 */
enum HowCompared: string
{
    case Equal = '=';
    case Differs = '<>';
    case Less = '<';
    case AtMost = '<=';
    case More = '>';
    case AtLeast = '>=';
    case OneOf = 'in';
    case NoneOf = 'not in';
    case Between = 'between';
    case Contains = 'contains';
    case Begins = 'begins';
    case IsEmpty = 'is null';
    case IsThere = 'is not null';

    public function label(): string
    {
        return match ($this) {
            self::Equal => 'is', self::Differs => 'is not', self::Less => 'less than', self::AtMost => 'at most', self::More => 'more than', self::AtLeast => 'at least', self::OneOf => 'one of', self::NoneOf => 'none of',
            self::Between => 'from, to', self::Contains => 'contains', self::Begins => 'begins with', self::IsEmpty => 'is empty', self::IsThere => 'is not empty',
        };
    }

    public function wants(): string
    {
        return match ($this) {
            self::OneOf, self::NoneOf => 'values with commas between them', self::Between => 'two values with a comma between them', self::IsEmpty, self::IsThere => '', default => 'a value, or :name to ask for it',
        };
    }

    /**
     * @param  list<string>  $values  literals and parameters as they are written in SQL; of Contains and Begins what is looked for
     */
    public function sql(string $column, array $values): string
    {
        return match ($this) {
            self::IsEmpty, self::IsThere => "$column $this->value",
            self::OneOf, self::NoneOf => "$column $this->value (".implode(', ', $values).')',
            self::Between => "$column between ".implode(' and ', $values),
            self::Contains => "$column like ".self::pattern($values[0], '%'),
            self::Begins => "$column like ".self::pattern($values[0], ''),
            default => "$column $this->value $values[0]",
        };
    }

    /**
     * @param  string  $literal  in quotes, or a parameter
     */
    private static function pattern(string $literal, string $before): string
    {
        if ($literal[0] === ':') {
            return $before === '' ? "concat($literal, '%')" : "concat('%', $literal, '%')";
        }

        return "'$before".strtr(substr($literal, 1, -1), ['%' => '\\%', '_' => '\\_', '\\\\' => '\\\\\\\\'])."%'";
    }
}
