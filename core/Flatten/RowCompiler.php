<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Flatten\Type\BooleanType;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\TextType;

/**
 * A table plan → PHP code that makes one row, with what is common written out: walking down names,
 * short texts, whole numbers, true and false. Everything else goes to the column's own classes
 * through `$fit`. The only parts of a plan that reach the code are names of members, as literals
 * written by `var_export`.
 *
 * @phpstan-type Fit \Closure(int, mixed, int): (string|false|null)
 * @phpstan-type Value \Closure(int, mixed, mixed, int): mixed
 */
final class RowCompiler
{
    /**
     * @return \Closure(mixed, mixed, int, Fit, Value): (list<string|null>|null) record, parent, position → row; null when the record is left out
     */
    public static function compile(TablePlan $table): \Closure
    {
        $code = '';
        foreach ($table->columns as $number => $column) {
            $code .= self::column($column, $number);
        }
        $closure = eval("return static function (mixed \$record, mixed \$parent, int \$position, \\Closure \$fit, \\Closure \$value): ?array {\n\$row = [];\n{$code}return \$row;\n};");

        return $closure instanceof \Closure ? $closure : throw new \LogicException('The code of a plan gives no closure.');
    }

    private static function column(Column $column, int $number): string
    {
        $slow = "\$v = \$fit($number, \$v, \$position); if (\$v === false) { return null; } \$row[] = \$v;";
        $empty = $column->inKey ? '' : 'if ($v === null) { $row[] = null; } else';
        $quick = match (true) {
            $column->type instanceof TextType => 'if (\is_string($v) && ! isset($v['.TextType::SHORT.'])) { $row[] = $v; } else',
            $column->type instanceof IntegerType => 'if (\is_int($v)) { $row[] = (string) $v; } else',
            $column->type instanceof BooleanType => 'if ($v === true) { $row[] = "1"; } elseif ($v === false) { $row[] = "0"; } else',
            default => '',
        };

        return self::read($column, $number)." $empty$quick { $slow }\n";
    }

    private static function read(Column $column, int $number): string
    {
        if ($column->names === null) {
            return "\$v = \$value($number, \$record, \$parent, \$position);";
        }
        $from = $column->source === ColumnSource::Parent ? '$parent' : '$record';
        $steps = implode('', array_map(static fn (string $name): string => '->{'.var_export($name, true).'}', $column->names));

        return $steps === '' ? "\$v = $from;" : "\$v = $from$steps ?? null;";
    }
}
