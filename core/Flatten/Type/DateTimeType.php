<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Moment\MomentReader;
use DeepSpring\Value\Moment\Readers;
use DeepSpring\Value\Unfit;

/**
 * A moment, kept in UTC to the microsecond. One without an offset is read in the column's zone.
 */
final class DateTimeType implements ColumnType, TellsLoss
{
    /** The form that most APIs send; its day is still checked. */
    public const USUAL = '/^\d{4}-\d\d-\d\dT(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:\.\d{1,6})?Z$/D';

    /** The same, with a day that every month has. */
    public const SURE = '/^[1-9]\d{3}-(?:0[1-9]|1[0-2])-(?:0[1-9]|1\d|2[0-8])T(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:\.\d{1,6})?Z$/D';

    private readonly \DateTimeZone $zone;

    /** @var array<string, int> */
    private array $losses = [];

    private readonly MomentReader $reader;

    public readonly DateType $day;

    public static function kind(): Kind
    {
        return new Kind('datetime', 'date and time', 'Stored in UTC, to the microsecond.', [TypeFields::format(), new Field('zone', FieldType::Text, 'zone', 'Of texts that name none.', default: 'UTC', example: 'UTC')]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['read_as'] ?? 'iso', $column['zone'] ?? null);
    }

    public function __construct(public readonly string $readAs = 'iso', ?string $zone = null)
    {
        $this->day = new DateType;
        $zone = new \DateTimeZone($zone ?? 'UTC');
        $this->zone = in_array($zone->getName(), ['UTC', '+00:00', 'Z'], true) ? new \DateTimeZone('UTC') : $zone;
        $this->reader = Readers::of($readAs);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (! is_scalar($value)) {
            return Unfit::structure($value);
        }
        if ($this->readAs === 'iso') {
            if (! is_string($value)) {
                return new Unfit('not a time like 2031-03-02T09:30:00Z');
            }
            if (preg_match(self::USUAL, $value) === 1 && is_string($day = $this->day->convert(substr($value, 0, 10)))) {
                return $day.' '.substr($value, 11, -1);
            }
        }
        $moment = $this->reader->read($value);

        if ($moment instanceof Unfit) {
            return $moment;
        }
        $utc = $moment->utc($this->zone);
        if ($moment->loss !== null && is_string($utc)) {
            $this->losses[$moment->loss->value] = ($this->losses[$moment->loss->value] ?? 0) + 1;
        }

        return $utc;
    }

    public function losses(): array
    {
        return $this->losses;
    }

    public function storage(): Storage
    {
        return Storage::DateTime;
    }

    public function name(): string
    {
        return 'datetime';
    }

    public function label(): string
    {
        return 'date and time, UTC';
    }
}
