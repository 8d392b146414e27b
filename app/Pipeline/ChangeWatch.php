<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\ByKey;
use DeepSpring\Increment\Increment;
use DeepSpring\Increment\SeenValues;

/**
 * Looks on while a list is read, for what says from where the next increment begins.
 */
final class ChangeWatch
{
    private readonly ?int $place;

    private readonly bool $isNumber;

    private ?string $largest = null;

    private ?string $first = null;

    private ?\DateTimeImmutable $began = null;

    private ?string $marker = null;

    private readonly ?JsonPath $markerAt;

    /**
     * @param  TablePlan  $table  the main one
     */
    public function __construct(Increment $increment, TablePlan $table)
    {
        $names = array_map(static fn (Column $one): string => $one->name, $table->columns);
        $place = $increment->column() === null ? false : array_search($increment->column(), $names, true);
        $this->place = $place === false ? null : $place;
        $this->isNumber = $this->place !== null && $table->columns[$this->place]->type->name() === 'integer';
        $this->markerAt = $increment->marker() === null ? null : JsonPath::parse($increment->marker());
    }

    public function see(ReadPage $page, RowBatch $batch): void
    {
        $isFirst = $page->number === 1 && $page->set === 0;
        if ($isFirst && $this->began === null) {
            $this->began = self::date($page->sent->headers['date'] ?? '');
        }
        foreach ($this->place === null ? [] : $batch->rows[0] as $row) {
            $value = $row[$this->place];
            if ($value !== null && ($this->largest === null || ByKey::compare($value, $this->largest, $this->isNumber) > 0)) {
                $this->largest = $value;
            }
        }
        $this->first = $isFirst ? $this->largest : $this->first;
        $marker = $this->markerAt?->values($page->document)[0] ?? null;
        $this->marker = is_scalar($marker) ? (string) $marker : $this->marker;
    }

    private static function date(string $header): ?\DateTimeImmutable
    {
        $date = \DateTimeImmutable::createFromFormat('D, d M Y H:i:s \G\M\T', $header, new \DateTimeZone('UTC'));

        return $date === false ? null : $date;
    }

    public function seen(): SeenValues
    {
        return new SeenValues($this->largest, $this->first, $this->began, $this->marker);
    }

    /**
     * Without the marker, which may hold what nobody is to see, and comes again with the last answer.
     *
     * @return array{largest: string|null, first: string|null, began: int|null}
     */
    public function toArray(): array
    {
        return ['largest' => $this->largest, 'first' => $this->first, 'began' => $this->began?->getTimestamp()];
    }

    /**
     * What an earlier process saw of the same reading. It may have seen less than it took, which makes the next
     * increment begin earlier.
     *
     * @param  array{largest?: string|null, first?: string|null, began?: int|null}  $seen
     */
    public function goOn(array $seen): void
    {
        $this->largest = $seen['largest'] ?? null;
        $this->first = $seen['first'] ?? null;
        $this->began = isset($seen['began']) ? new \DateTimeImmutable('@'.$seen['began']) : null;
    }
}
