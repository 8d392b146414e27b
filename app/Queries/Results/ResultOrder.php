<?php

declare(strict_types=1);

namespace App\Queries\Results;

use App\Queries\ResultColumn;

/**
 * How the rows of a result are sorted, and what they have to hold.
 */
final readonly class ResultOrder
{
    /**
     * @param  int|null  $column  its place
     */
    public function __construct(public ?int $column, public bool $descending, public string $text)
    {
    }

    public function isNone(): bool
    {
        return $this->column === null && $this->text === '';
    }

    public function text(): string
    {
        return json_encode([$this->column, $this->descending, $this->text], JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    /**
     * The statement in another one that names each of its columns by its place, so that several may bear one
     * name.
     *
     * @param  list<ResultColumn>  $columns
     */
    public function sql(string $sql, array $columns): string
    {
        $names = array_map(static fn (int $place): string => "c$place", array_keys($columns));
        $found = '';
        if ($this->text !== '') {
            $pattern = "'%".strtr($this->text, ['\\' => '\\\\\\\\', "'" => "''", '%' => '\\%', '_' => '\\_'])."%'";
            $found = "\nwhere ".implode(' or ', array_map(static fn (string $name): string => "convert($name using utf8mb4) collate utf8mb4_general_ci like $pattern", $names));
        }
        $order = $this->column !== null && isset($columns[$this->column]) ? "\norder by c$this->column".($this->descending ? ' desc' : '') : '';

        return 'with found ('.implode(', ', $names).") as (\n$sql\n)\nselect * from found$found$order";
    }
}
