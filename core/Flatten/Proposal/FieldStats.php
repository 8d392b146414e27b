<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\Unfit;

/**
 * What was seen of one field across the sampled records.
 */
final class FieldStats
{
    public int $values = 0;

    public int $nulls = 0;

    public int $emptyTexts = 0;

    private int $integers = 0;

    private int $floats = 0;

    private int $booleans = 0;

    private int $texts = 0;

    public int $structures = 0;

    private int $scale = 0;

    private int $wholeTexts = 0;

    private int $decimalTexts = 0;

    private int $dates = 0;

    private int $datetimes = 0;

    private int $tooBig = 0;

    /** @var array<string, string> what would be lost → an example */
    private array $losses = [];

    /** @var array<string, true> */
    private array $distinct = [];

    private bool $repeats = false;

    private int $longest = 0;

    public function add(mixed $value): void
    {
        if ($value === null) {
            $this->nulls++;

            return;
        }
        $this->values++;
        match (true) {
            is_int($value) => $this->integers++,
            is_bool($value) => $this->booleans++,
            is_float($value) => $this->addFloat($value),
            is_string($value) => $this->addText($value),
            default => $this->structures++,
        };
        if (is_scalar($value)) {
            $text = is_bool($value) ? ($value ? 'true' : 'false') : (string) $value;
            $this->longest = max($this->longest, strlen($text));
            $this->repeats = $this->repeats || isset($this->distinct[$text]);
            $this->distinct[$text] = true;
        }
    }

    private function addFloat(float $value): void
    {
        $this->floats++;
        $digits = (string) json_encode($value);
        $this->scale = max($this->scale, preg_match('/^-?\d+(?:\.(\d+))?$/D', $digits, $part) === 1 ? strlen($part[1] ?? '') : 99);
    }

    private function addText(string $value): void
    {
        $this->texts++;
        if ($value === '') {
            $this->emptyTexts++;

            return;
        }
        if (preg_match('/^-?(?:0|[1-9]\d*)$/D', $value) === 1) {
            if ((new IntegerType)->convert($value) instanceof Unfit) {
                $this->tooBig++;
                $this->losses += ['is beyond 64 bits' => $value];
            } else {
                $this->wholeTexts++;
            }
        } elseif (preg_match('/^-?(?:0|[1-9]\d{0,20})\.(\d{1,8})$/D', $value, $part) === 1) {
            $this->decimalTexts++;
            $this->scale = max($this->scale, strlen($part[1]));
        } elseif (preg_match('/^-?0\d+$/D', $value) === 1) {
            $this->losses += ['keeps its zero' => $value];
        } elseif (preg_match('/^\+\d+$/D', $value) === 1) {
            $this->losses += ['keeps its plus' => $value];
        } elseif (preg_match('/^\d{4}-\d\d-\d\d$/D', $value) === 1 && ! (new DateType)->convert($value) instanceof Unfit) {
            $this->dates++;
        } elseif (preg_match('/^\d{4}-\d\d-\d\dT.*(?:Z|[+-]\d\d:?\d\d)$/iD', $value) === 1 && ! (new DateTimeType)->convert($value) instanceof Unfit) {
            $this->datetimes++;
        }
    }

    public function isUnique(): bool
    {
        return ! $this->repeats && $this->structures === 0 && $this->emptyTexts === 0 && $this->longest <= 255 && $this->floats === 0 && $this->booleans === 0;
    }

    /**
     * The type that keeps every value seen, and what a person should know about the choice.
     *
     * @return array{type: string, scale?: int, note: string|null}
     */
    public function type(): array
    {
        $numbers = $this->integers + $this->floats;
        if ($this->values === 0) {
            return ['type' => 'text', 'note' => $this->nulls > 0 ? 'only null so far' : null];
        }
        if ($this->structures > 0) {
            return ['type' => 'json', 'note' => $this->structures < $this->values ? 'sometimes a value, sometimes a structure' : null];
        }
        if ($this->booleans === $this->values) {
            return ['type' => 'boolean', 'note' => null];
        }
        if ($numbers === $this->values) {
            return $this->number();
        }
        if ($this->texts !== $this->values) {
            return ['type' => 'text', 'note' => 'holds more than one type'];
        }

        return $this->text();
    }

    /**
     * @return array{type: string, scale?: int, note: string|null}
     */
    private function number(): array
    {
        if ($this->floats === 0) {
            return ['type' => 'integer', 'note' => null];
        }

        return $this->scale <= 8 ? ['type' => 'decimal', 'scale' => max(2, $this->scale), 'note' => null] : ['type' => 'float', 'note' => null];
    }

    /**
     * @return array{type: string, scale?: int, note: string|null}
     */
    private function text(): array
    {
        $filled = $this->texts - $this->emptyTexts;
        if ($this->losses !== []) {
            $why = array_key_first($this->losses);

            return ['type' => 'text', 'note' => $this->losses[$why].' '.$why];
        }
        if ($filled === 0 || $this->emptyTexts > 0) {
            return ['type' => 'text', 'note' => $this->emptyTexts > 0 && $filled > 0 && in_array($filled, [$this->wholeTexts, $this->dates, $this->datetimes], true) ? 'empty strings among the values' : null];
        }

        return match ($filled) {
            $this->dates => ['type' => 'date', 'note' => null],
            $this->datetimes => ['type' => 'datetime', 'note' => null],
            $this->wholeTexts => ['type' => 'integer', 'note' => 'comes as text'],
            $this->wholeTexts + $this->decimalTexts => ['type' => 'decimal', 'scale' => $this->scale, 'note' => 'comes as text'],
            default => ['type' => 'text', 'note' => null],
        };
    }
}
