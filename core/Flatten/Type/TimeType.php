<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Moment\Loss;
use DeepSpring\Value\Moment\Moment;
use DeepSpring\Value\Moment\Pattern;
use DeepSpring\Value\Unfit;

/**
 * A time of day (ISO 8601 extended or basic, RFC 3339 partial-time), without a day and an offset.
 */
final class TimeType implements ColumnType, TellsLoss
{
    /** @var array<string, int> */
    private array $losses = [];

    private readonly ?Pattern $pattern;

    public static function kind(): Kind
    {
        return new Kind('time', 'time of day', 'Without a day.', [TypeFields::format()]);
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self($column['read_as'] ?? 'iso');
    }

    public function __construct(public readonly string $readAs = 'iso')
    {
        $this->pattern = $readAs === 'iso' ? null : new Pattern($readAs);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (! is_string($value)) {
            return is_array($value) || is_object($value) ? Unfit::structure($value) : new Unfit('not a time of day like 09:30');
        }
        if ($this->pattern !== null) {
            $read = $this->pattern->read($value);
            if ($read instanceof Unfit) {
                return $read;
            }

            $this->lose($read->loss);

            return $this->pattern->hasDay ? new Unfit('has a day, which a time column would lose') : gmdate('H:i:s', $read->seconds ?? 0).$read->fraction;
        }
        if (preg_match('/^T?([01]\d|2[0-3]):?([0-5]\d)(?::?([0-5]\d)(?:[.,](\d{1,9}))?)?$/D', $value, $part) !== 1) {
            return new Unfit(match (true) {
                $value === '' => 'an empty string where a time was expected',
                preg_match('/^\d{4}-\d\d-\d\d[T ]/', $value) === 1 => 'has a day, which a time column would lose',
                preg_match('/^T?\d\d:?\d\d.*(?:Z|[+-]\d\d:?\d\d)$/D', $value) === 1 => 'has an offset, which a time column would lose',
                default => 'not a time of day like 09:30',
            });
        }

        $this->lose(Moment::loss($part[4] ?? ''));

        return "$part[1]:$part[2]:".($part[3] ?? '00').Moment::fraction($part[4] ?? '');
    }

    private function lose(?Loss $loss): void
    {
        if ($loss !== null) {
            $this->losses[$loss->value] = ($this->losses[$loss->value] ?? 0) + 1;
        }
    }

    public function losses(): array
    {
        return $this->losses;
    }

    public function storage(): Storage
    {
        return Storage::Time;
    }

    public function name(): string
    {
        return 'time';
    }

    public function label(): string
    {
        return 'time of day';
    }
}
