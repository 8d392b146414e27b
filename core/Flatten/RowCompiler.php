<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Flatten\Type\BooleanType;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\TextType;

/**
 * A table plan → PHP code that makes one row, with what is common written out: walking down names
 * (those that several columns share only once), short texts, whole numbers, short decimals, days
 * seen before, true and false. Everything else goes to the column's own classes through `$fit`.
 * The only parts of a plan that reach the code are names of members, as literals written by
 * `var_export`, and whole numbers.
 *
 * @phpstan-type Fit \Closure(int, mixed): (string|false|null)
 * @phpstan-type Value \Closure(int, mixed): mixed
 * @phpstan-type Compute \Closure(int, list<string|null>): (string|false|null)
 */
final class RowCompiler
{
    private string $code = '';

    /** @var array<string, string> steps → the variable that holds what is there */
    private array $held = [];

    /** @var array<string, int> steps → how many columns go through there */
    private array $shared = [];

    private function __construct(private readonly TablePlan $table)
    {
        foreach ($table->columns as $column) {
            $names = $this->walks($column) ? $column->names ?? [] : [];
            for ($length = 1; $length < count($names); $length++) {
                $steps = self::steps($column, array_slice($names, 0, $length));
                $this->shared[$steps] = ($this->shared[$steps] ?? 0) + 1;
            }
        }
    }

    /**
     * @return \Closure(mixed, mixed, int, bool, list<ColumnType>, Fit, Value, Compute): (list<string|null>|null) record, parent, position, whether numbers are short, types → row; null when the record is left out
     */
    public static function compile(TablePlan $table): \Closure
    {
        return (new self($table))->closure();
    }

    private function closure(): \Closure
    {
        foreach ($this->table->columns as $number => $column) {
            $this->column($column, $number);
        }
        $row = $this->row(count($this->table->columns));
        if ($this->table->where !== null) {
            $this->code .= "\$row = $row;\nif (\$compute(-1, \$row) === false) { return null; }\nreturn \$row;\n";
        } else {
            $this->code .= "return $row;\n";
        }
        $closure = eval("return static function (mixed \$record, mixed \$parent, int \$position, bool \$short, array \$types, \\Closure \$fit, \\Closure \$value, \\Closure \$compute): ?array {\n{$this->code}};");

        return $closure instanceof \Closure ? $closure : throw new \LogicException('The code of a plan gives no closure.');
    }

    private function column(Column $column, int $number): void
    {
        $into = "\$c$number";
        if ($column->source === ColumnSource::Compute) {
            $this->code .= "$into = \$compute($number, {$this->row($number)}); if ($into === false) { return null; }\n";

            return;
        }
        $this->code .= '$v = '.$this->read($column, $number).";\n";
        $slow = "$into = \$fit($number, \$v); if ($into === false) { return null; }";
        $empty = $column->inKey ? '' : "if (\$v === null) { $into = null; } else";
        $this->code .= "$empty{$this->quick($column, $number, $into)} { $slow }\n";
    }

    /**
     * A chain of ifs that ends with an else, or nothing.
     */
    private function quick(Column $column, int $number, string $into): string
    {
        if (! $column->isPlain()) {
            return '';
        }
        $type = $column->type;

        return match (true) {
            $type instanceof TextType => 'if (\is_string($v) && ! isset($v['.TextType::SHORT."])) { $into = \$v; } else",
            $type instanceof IntegerType => "if (\\is_int(\$v)) { $into = (string) \$v; } else",
            $type instanceof BooleanType => "if (\$v === true) { $into = '1'; } elseif (\$v === false) { $into = '0'; } else",
            $type instanceof DecimalType && $type->takesLong() => "if (\\is_int(\$v)) { $into = (string) \$v; } elseif (\$short && \\is_float(\$v) && \\is_finite(\$v) && ! isset((\$d = (string) \\json_encode(\$v))[16]) && \\strpos(\$d, 'e') === false && ((\$p = \\strpos(\$d, '.')) === false || \\strlen(\$d) - \$p <= ".($type->scale + 1).")) { $into = \$d; } else",
            $type instanceof DateType => "if (\\is_string(\$v) && isset(\$types[$number]->known[\$v])) { $into = \$types[$number]->known[\$v]; } else",
            $type instanceof DateTimeType && $type->readAs === 'iso' => 'if (\\is_string($v) && isset($v[19]) && \\preg_match('.var_export(DateTimeType::USUAL, true).", \$v) === 1 && isset(\$types[$number]->day->known[\$d = \\substr(\$v, 0, 10)])) { $into = \$d.' '.\\substr(\$v, 11, -1); } else",
            default => '',
        };
    }

    private function read(Column $column, int $number): string
    {
        if (! $this->walks($column)) {
            return "\$value($number, \$record)";
        }
        $names = $column->names ?? [];
        $from = $column->source === ColumnSource::Parent ? '$parent' : '$record';
        for ($length = 1; $length < count($names); $length++) {
            $steps = self::steps($column, array_slice($names, 0, $length));
            if (($this->shared[$steps] ?? 0) > 1) {
                if (! isset($this->held[$steps])) {
                    $this->held[$steps] = '$o'.count($this->held);
                    $this->code .= "{$this->held[$steps]} = $from".self::arrow($names[$length - 1])." ?? null;\n";
                }
                $from = $this->held[$steps];
            } else {
                $from .= self::arrow($names[$length - 1]);
            }
        }

        return $names === [] ? $from : $from.self::arrow($names[count($names) - 1]).' ?? null';
    }

    private function walks(Column $column): bool
    {
        return $column->names !== null && ($column->source === ColumnSource::From || $column->source === ColumnSource::Parent && $column->up === 0);
    }

    private function row(int $count): string
    {
        return '['.implode(', ', array_map(static fn (int $number): string => "\$c$number", $count === 0 ? [] : range(0, $count - 1))).']';
    }

    private static function arrow(string $name): string
    {
        return '->{'.var_export($name, true).'}';
    }

    /**
     * @param  list<string>  $names
     */
    private static function steps(Column $column, array $names): string
    {
        return $column->source->value."\0".implode("\0", $names);
    }
}
