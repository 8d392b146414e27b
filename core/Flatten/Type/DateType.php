<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Moment\MomentReader;
use DeepSpring\Value\Moment\Readers;
use DeepSpring\Value\Unfit;

/**
 * A day. A time is let go only when it is midnight without an offset or in UTC.
 */
final class DateType implements ColumnType
{
    /** Days that were read before; most tables hold few different ones. */
    private const REMEMBERED = 4000;

    /** @var array<array-key, string> as written → as kept */
    public array $known = [];

    private readonly MomentReader $reader;

    public static function kind(): Kind
    {
        return new Kind('date', 'date', 'A day of the calendar.', [TypeFields::format()]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['read_as'] ?? 'iso');
    }

    public function __construct(public readonly string $readAs = 'iso')
    {
        $this->reader = Readers::of($readAs);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (is_string($value) && isset($this->known[$value])) {
            return $this->known[$value];
        }
        if (! is_scalar($value)) {
            return Unfit::structure($value);
        }
        $moment = $this->reader->read($value);
        if ($moment instanceof Unfit) {
            return is_string($value) || $this->readAs !== 'iso' ? $moment : new Unfit('a number where a date like 2031-03-02 was expected');
        }
        $day = $moment->wholeDay();
        if (is_string($day) && is_string($value) && strlen($value) < 40) {
            $this->known = count($this->known) < self::REMEMBERED ? $this->known : [];
            $this->known[$value] = $day;
        }

        return $day;
    }

    public function storage(): Storage
    {
        return Storage::Date;
    }

    public function name(): string
    {
        return 'date';
    }

    public function label(): string
    {
        return 'date';
    }
}
