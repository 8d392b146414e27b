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
 * A table plan → PHP code that makes rows, with what is common written out: walking down names
 * (those that several columns share only once), short texts, whole numbers, short decimals, days
 * seen before, true and false. Everything else goes to the column's own classes through `$fit`.
 * The only parts of a plan that reach the code are names of members, as literals written by
 * `var_export`, and whole numbers.
 *
 * It is called with the records, what they stand in, whether their numbers are short, and those that must
 * not become rows with why. It calls `$fit` with a column, its value, the place of the record and the record;
 * `$value` with a column, the record and its place; `$compute` with a column (-1 is the condition), the row so
 * far, the place and the record; `$below` and `$beside` with the place and the record.
 *
 * @phpstan-type Fit \Closure(int, mixed, int, mixed): (string|false|null)
 * @phpstan-type Value \Closure(int, mixed, int): mixed
 * @phpstan-type Compute \Closure(int, list<string|null>, int, mixed): (string|false|null)
 * @phpstan-type Inside \Closure(int, mixed): void
 * @phpstan-type Refuse \Closure(int, string): void
 * @phpstan-type Rows \Closure(list<mixed>, mixed, bool, array<int, string>): list<list<string|null>>
 */
final class RowCompiler
{
    private string $code = '';

    /** @var array<string, string> variables that hold something for all records → what */
    private array $kept = [];

    /** @var array<string, string> steps → the variable that holds what is there */
    private array $held = [];

    /** @var array<string, int> steps → how many columns go through there */
    private array $shared = [];

    private function __construct(private readonly TablePlan $table, private readonly bool $isMain)
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
     * @param  bool  $isMain  whether its rows are the records themselves
     * @return \Closure(list<ColumnType>, Fit, Value, Compute, Inside|null, Inside|null, Refuse): Rows given what is inside of a record that became a row, and of any record
     */
    public static function compile(TablePlan $table, bool $isMain): \Closure
    {
        return (new self($table, $isMain))->closure();
    }

    private function closure(): \Closure
    {
        foreach ($this->table->columns as $number => $column) {
            $this->column($column, $number);
        }
        $row = $this->row(count($this->table->columns));
        if ($this->table->where !== null) {
            $this->code .= "if (\$compute(-1, $row, \$place, \$record) === false) { break; }\n";
        }
        $isBeside = fn (TablePlan $branch): bool => $this->isMain && $branch->isSplit();
        $beside = array_filter($this->table->branches, $isBeside) === [] ? '' : "\$beside(\$place, \$record);\n";
        $below = count($this->table->branches) === count(array_filter($this->table->branches, $isBeside)) ? '' : "\$below(\$place, \$record);\n";
        $this->code .= "\$rows[] = $row;\n$below";
        $kept = implode('', array_map(static fn (string $variable, string $what): string => "$variable = $what;\n", array_keys($this->kept), $this->kept));
        $uses = implode(', ', ['$fit', '$value', '$compute', '$below', '$beside', '$refuse', ...array_keys($this->kept)]);
        $refused = $this->isMain ? "if (isset(\$refused[\$place])) { \$refuse(\$place, \$refused[\$place]); continue; }\n" : '';
        // What is left out goes on behind the inner loop, which is no loop.
        $closure = eval("return static function (array \$types, \\Closure \$fit, \\Closure \$value, \\Closure \$compute, ?\\Closure \$below, ?\\Closure \$beside, \\Closure \$refuse): \\Closure {\n{$kept}return static function (array \$records, mixed \$parent, bool \$short, array \$refused) use ($uses): array {\n\$rows = [];\nforeach (\$records as \$place => \$record) {\n{$refused}do {\n{$this->code}} while (false);\n$beside}\nreturn \$rows;\n};\n};");

        return $closure instanceof \Closure ? $closure : throw new \LogicException('The code of a plan gives no closure.');
    }

    private function column(Column $column, int $number): void
    {
        $into = "\$c$number";
        if ($column->source === ColumnSource::Compute) {
            $this->code .= "$into = \$compute($number, {$this->row($number)}, \$place, \$record); if ($into === false) { break; }\n";

            return;
        }
        $this->code .= "$into = ".$this->read($column, $number).";\n";
        $slow = "$into = \$fit($number, $into, \$place, \$record); if ($into === false) { break; }";
        $quick = $column->isPlain() ? $this->quick($column->type, $number, $into) : '';
        $this->code .= match (true) {
            $quick === '' && $column->inKey => "$slow\n",
            $quick === '' => "if ($into !== null) { $slow }\n",
            // A text is kept as it is.
            $column->type instanceof TextType => "if ($quick : ".($column->inKey ? 'true' : "$into !== null").") { $slow }\n",
            $column->inKey => "$quick else { $slow }\n",
            default => "if ($into === null) { } else$quick else { $slow }\n",
        };
    }

    /**
     * A chain of ifs that is to end with an else; for a text the beginning of the condition under which it is not quick; or nothing.
     */
    private function quick(ColumnType $type, int $number, string $into): string
    {
        if ($type instanceof DateType) {
            $this->kept["\$t$number"] = "\$types[$number]";
        } elseif ($type instanceof DateTimeType) {
            $this->kept["\$t$number"] = "\$types[$number]->day";
        }

        return match (true) {
            $type instanceof TextType => "\\is_string($into) ? isset({$into}[".TextType::SHORT.'])',
            $type instanceof IntegerType => "if (\\is_int($into)) { $into = (string) $into; }",
            $type instanceof BooleanType => "if ($into === true) { $into = '1'; } elseif ($into === false) { $into = '0'; }",
            $type instanceof DecimalType && $type->takesLong() => $this->decimal($type, $number, $into),
            $type instanceof DateType && $type->readAs === 'iso' => "if (\\is_string($into) && \\preg_match('/^[1-9]\\d{3}-(?:0[1-9]|1[0-2])-(?:0[1-9]|1\\d|2[0-8])\$/D', $into) === 1) { } elseif (\\is_string($into) && (\$d = \$t{$number}->known[$into] ?? null) !== null) { $into = \$d; }",
            $type instanceof DateType => "if (\\is_string($into) && (\$d = \$t{$number}->known[$into] ?? null) !== null) { $into = \$d; }",
            // A day of this form is kept as it is written.
            $type instanceof DateTimeType && $type->readAs === 'iso' => "if (\\is_string($into) && (\\preg_match(".var_export(DateTimeType::SURE, true).", $into) === 1 || \\preg_match(".var_export(DateTimeType::USUAL, true).", $into) === 1 && isset(\$t{$number}->known[\\substr($into, 0, 10)]))) { $into = \\substr($into, 0, -1); {$into}[10] = ' '; }",
            default => '',
        };
    }

    /**
     * Of the 15 digits that a float surely keeps (IEEE 754), those of a quotient are the shortest that give it
     * again, so they need not be looked for.
     */
    private function decimal(DecimalType $type, int $number, string $into): string
    {
        $parts = ["if (\\is_int($into)) { $into = (string) $into; }"];
        if ($type->fractions() !== null) {
            $power = 10 ** $type->scale;
            $this->kept["\$t$number"] = "\$types[$number]->fractions()";
            $parts[] = "if (\$short && \\is_float($into) && $into > 0.0 && $into < 1e12 && (\$i = (int) ($into * $power + 0.5)) / $power == $into) { $into = (int) $into.\$t{$number}[\$i % $power]; }";
        }
        // A float of this size is written without an exponent.
        $parts[] = "if (\$short && \\is_float($into) && ($into >= 0.0001 && $into < 1e15 || $into <= -0.0001 && $into > -1e15 || $into === 0.0) && ! isset((\$d = (string) \\json_encode($into))[16]) && ((\$p = \\strpos(\$d, '.')) === false || \\strlen(\$d) - \$p <= ".($type->scale + 1).")) { $into = \$d; }";

        return implode(' else', $parts);
    }

    private function read(Column $column, int $number): string
    {
        if ($column->source === ColumnSource::Position && $column->up === 0 && ! $this->isMain) {
            return '$place + 1';
        }
        if (! $this->walks($column)) {
            return "\$value($number, \$record, \$place)";
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
