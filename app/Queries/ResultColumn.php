<?php

declare(strict_types=1);

namespace App\Queries;

use DeepSpring\Export\ExportType;

final readonly class ResultColumn
{
    private const TYPES = [
        'TINY' => ExportType::Integer, 'SHORT' => ExportType::Integer, 'INT24' => ExportType::Integer, 'LONG' => ExportType::Integer, 'LONGLONG' => ExportType::Integer, 'YEAR' => ExportType::Integer,
        'NEWDECIMAL' => ExportType::Decimal, 'DECIMAL' => ExportType::Decimal, 'DOUBLE' => ExportType::Float, 'FLOAT' => ExportType::Float,
        'DATE' => ExportType::Date, 'DATETIME' => ExportType::DateTime, 'TIMESTAMP' => ExportType::DateTime, 'TIME' => ExportType::Time,
    ];

    public bool $isNumber;

    public bool $isText;

    /**
     * @param  bool  $isKey  whether it is a key of its table
     */
    public function __construct(public string $name, public ExportType $type, public ?int $scale = null, public bool $isKey = false)
    {
        $this->isNumber = $type->isNumber();
        $this->isText = $type === ExportType::Text;
    }

    /**
     * @param  array<string, mixed>  $meta  of PDOStatement::getColumnMeta
     */
    public static function fromMeta(array $meta): self
    {
        $type = self::TYPES[(string) ($meta['native_type'] ?? '')] ?? ExportType::Text;

        return new self((string) $meta['name'], $type, $type === ExportType::Decimal ? (int) ($meta['precision'] ?? 0) : null, array_intersect((array) ($meta['flags'] ?? []), ['primary_key', 'unique_key']) !== []);
    }
}
