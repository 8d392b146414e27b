<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal\Guess;

use DeepSpring\Flatten\Proposal\SampledValues;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;
use DeepSpring\Flatten\Type\TimeType;
use DeepSpring\Value\Moment\Mail;
use DeepSpring\Value\Unfit;

/**
 * Texts that are days, moments or times of day. Whether the day or the month stands first is
 * settled by a value that can be read only one way, and asked where there is none.
 */
final readonly class DayGuess implements Guess
{
    private const NUMERIC = '~^(\d{1,2})([./-])(\d{1,2})\2(\d{4})(?:[T ,]+(\d{1,2}):\d\d(:\d\d)?)?$~D';

    public function of(SampledValues $values, string $name): ?TypeProposal
    {
        if (! $values->isText() || $values->distinct === []) {
            return null;
        }
        $found = $this->iso($values) ?? $this->mail($values) ?? $this->numeric($values);

        return $found !== null && $values->emptyTexts > 0 && $found->column['type'] !== 'text' ? TypeProposal::text('empty strings among the values') : $found;
    }

    private function iso(SampledValues $values): ?TypeProposal
    {
        if ($values->allMatch('/^\d{4}-\d\d-\d\d$/D')) {
            return $this->where($values, new DateType, ['type' => 'date']);
        }
        if ($values->allMatch(DateTimeType::USUAL) || $values->allMatch('/^\d{4}-?(?:\d\d-?\d\d|W\d\d-?\d|\d{3})[Tt ]\d\d.*(?:[Zz]|[+-]\d\d(?::?\d\d)?)(?:\[.*\])?$/D')) {
            return $this->where($values, new DateTimeType, ['type' => 'datetime'], match (true) {
                $values->matching('/[.,]\d{6}\d*[1-9]\d*\D/') !== [] => 'finer than a microsecond in places, which is cut',
                $values->matching('/\d\d:?\d\d:?60(?:[.,Zz+ -]|$)/') !== [] => 'a leap second in places, which is kept as the second after it',
                default => null,
            });
        }
        if ($values->allMatch('/^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(?::\d\d(?:[.,]\d+)?)?$/D')) {
            return TypeProposal::text('a time without a zone: choose date and time, and say which zone it is of', true);
        }
        if ($values->allMatch('/^(?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d(?:\.\d+)?)?$/D')) {
            return $this->where($values, new TimeType, ['type' => 'time']);
        }
        if ($values->allMatch('/^-?P(?=.)(?:\d+[YMWD])*(?:T(?=.)(?:\d+(?:\.\d+)?[HMS])+)?$/D')) {
            return TypeProposal::text('an ISO 8601 duration; seconds(…) counts it');
        }
        if ($values->allMatch('~^/Date\(-?\d+(?:[+-]\d{1,4})?\)/$~D')) {
            return $this->where($values, new DateTimeType('odata-v2'), ['type' => 'datetime', 'read_as' => 'odata-v2'], 'milliseconds since 1970, as OData 2 writes them');
        }

        return null;
    }

    private function mail(SampledValues $values): ?TypeProposal
    {
        return $values->allMatch(Mail::PATTERN) ? $this->where($values, new DateTimeType('rfc2822'), ['type' => 'datetime', 'read_as' => 'rfc2822'], 'a time as in mails') : null;
    }

    private function numeric(SampledValues $values): ?TypeProposal
    {
        if ($values->allMatch('~^\d{4}/\d\d/\d\d$~D')) {
            return $this->where($values, new DateType('yyyy/MM/dd'), ['type' => 'date', 'read_as' => 'yyyy/MM/dd']);
        }
        if (! $values->allMatch(self::NUMERIC)) {
            return null;
        }
        $first = $second = 0;
        $short = $hasTime = $hasSeconds = false;
        $separators = [];
        foreach ($values->texts() as $text) {
            if (preg_match(self::NUMERIC, $text, $part) !== 1) {
                continue;
            }
            $first = max($first, (int) $part[1]);
            $second = max($second, (int) $part[3]);
            $short = $short || strlen($part[1]) === 1 || strlen($part[3]) === 1;
            $separators[$part[2]] = true;
            $hasTime = $hasTime || isset($part[5]);
            $hasSeconds = $hasSeconds || isset($part[6]);
        }
        if (count($separators) > 1 || $first > 12 && $second > 12) {
            return null;
        }
        $example = (string) array_key_first($values->distinct);
        if ($first <= 12 && $second <= 12) {
            return TypeProposal::text("day first or month first? Nothing among these values says; $example can be read both ways", true);
        }
        if ($hasTime) {
            return TypeProposal::text('a time without a zone: choose date and time, say how it is written and which zone it is of', true);
        }
        $separator = (string) array_key_first($separators);
        $pattern = implode($separator, [...($first > 12 ? [$short ? 'd' : 'dd', $short ? 'M' : 'MM'] : [$short ? 'M' : 'MM', $short ? 'd' : 'dd']), 'yyyy']);
        $proof = '';
        foreach ($values->texts() as $text) {
            if (preg_match(self::NUMERIC, $text, $part) === 1 && (int) $part[$first > 12 ? 1 : 3] > 12) {
                $proof = $text;
                break;
            }
        }

        return $this->where($values, new DateType($pattern), ['type' => 'date', 'read_as' => $pattern], ($first > 12 ? 'the day stands first' : 'the month stands first').", which $proof proves");
    }

    /**
     * @param  array<string, mixed>  $column
     */
    private function where(SampledValues $values, ColumnType $type, array $column, ?string $note = null): ?TypeProposal
    {
        $texts = $values->texts();
        if ($type instanceof DateTimeType && $values->allMatch(DateTimeType::USUAL)) {
            // Only the days of these can be wrong, and there are far fewer days than moments.
            [$type, $texts] = [new DateType, array_map(strval(...), array_keys(array_flip(array_map(static fn (string $text): string => substr($text, 0, 10), $texts))))];
        }
        foreach ($texts as $text) {
            if ($type->convert($text) instanceof Unfit) {
                return null;
            }
        }

        return new TypeProposal($column, $note);
    }
}
