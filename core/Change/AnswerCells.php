<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Flatten\Column;
use DeepSpring\Value\Unfit;

/**
 * Cells of a row that the answer of an action fills: `{label: $.label.address}`.
 */
final readonly class AnswerCells
{
    /**
     * @param  array<string, string>  $puts  paths into the answer (RFC 9535), by column
     * @param  array<string, Column>  $columns  of the table, by name
     */
    public function __construct(private array $puts, private array $columns)
    {
    }

    public function isNone(): bool
    {
        return $this->puts === [];
    }

    /**
     * @return array{array<string, string|null>, list<string>} cells as the database holds them, by column, and why the others stay as they are
     */
    public function read(mixed $document): array
    {
        $cells = $why = [];
        foreach ($this->puts as $name => $path) {
            $column = $this->columns[$name] ?? null;
            if ($column === null) {
                continue;
            }
            try {
                $found = JsonPath::parse($path)->values($document);
            } catch (TooCostly $costly) {
                $why[] = "$name: {$costly->getMessage()}.";

                continue;
            }
            $value = $found === [] ? null : ($found[0] === null ? null : $column->type->convert($found[0]));
            match (true) {
                $found === [] => $why[] = "The answer has nothing at $path for $name.",
                $value instanceof Unfit => $why[] = "What the answer has for $name does not fit: $value->reason.",
                default => $cells[$name] = $value,
            };
        }

        return [$cells, $why];
    }
}
