<?php

declare(strict_types=1);

namespace App\Queries;

final readonly class ResultColumn
{
    public function __construct(public string $name, public bool $isNumber, public bool $isText)
    {
    }

    /**
     * @param  array<string, mixed>  $meta  of PDOStatement::getColumnMeta
     */
    public static function fromMeta(array $meta): self
    {
        $type = (string) ($meta['native_type'] ?? '');
        $isNumber = in_array($type, ['LONG', 'LONGLONG', 'INT24', 'SHORT', 'TINY', 'NEWDECIMAL', 'DECIMAL', 'DOUBLE', 'FLOAT', 'YEAR'], true);

        return new self((string) $meta['name'], $isNumber, ! $isNumber && ! in_array($type, ['DATE', 'DATETIME', 'TIMESTAMP', 'TIME'], true));
    }
}
