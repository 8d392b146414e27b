<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Value\JsonText;

/**
 * The scalar values that were seen at one path, as a whole.
 */
final class SampledValues
{
    /** Values that are no null. */
    public int $filled = 0;

    public int $nulls = 0;

    public int $integers = 0;

    /** Whole numbers beyond 64 bits. */
    public int $long = 0;

    public int $floats = 0;

    public int $booleans = 0;

    public int $texts = 0;

    public int $emptyTexts = 0;

    public ?int $least = null;

    public ?int $most = null;

    /** @var list<string> different numbers that are no whole ones of 64 bits, as they were written */
    private array $written;

    private ?NumbersSeen $numbers = null;

    /** Bytes of the longest text. */
    public int $longest = 0;

    /** @var array<array-key, int> texts that are not empty → how often */
    public array $distinct = [];

    /** Different values of whatever type. */
    public int $different = 0;

    /** @var list<string> */
    private array $strings = [];

    /** @var array<string, list<string>> */
    private array $matching = [];

    /**
     * @param  list<string|int|float|bool|JsonText|null>  $values
     */
    public function __construct(array $values)
    {
        $texts = $numbers = $floats = $written = [];
        $nulls = $booleans = 0;
        foreach ($values as $value) {
            if (is_string($value)) {
                $texts[] = $value;
            } elseif (is_int($value)) {
                $numbers[] = $value;
            } elseif ($value === null) {
                $nulls++;
            } elseif (is_float($value)) {
                $floats[] = $value;
            } elseif ($value instanceof JsonText) {
                if ($value->json === '-0') {
                    $numbers[] = 0;
                } else {
                    $written[] = $value->json;
                }
            } else {
                $booleans++;
            }
        }
        [$this->nulls, $this->booleans] = [$nulls, $booleans];
        $this->long = count((array) preg_grep('/^-?\d+$/D', $written));
        [$this->integers, $this->texts, $this->floats] = [count($numbers), count($texts), count($floats) + count($written) - $this->long];
        $this->filled = $this->integers + $this->long + $this->floats + $this->booleans + $this->texts;
        $different = min(2, $booleans);
        if ($numbers !== []) {
            [$this->least, $this->most] = [min($numbers), max($numbers)];
            $different += count(array_flip($numbers));
        }
        $this->written = array_map(strval(...), array_keys(array_flip([...array_map(static fn (float $one): string => (string) json_encode($one), $floats), ...$written])));
        $different += count($this->written);
        if ($texts !== []) {
            $this->distinct = array_count_values($texts);
            $this->emptyTexts = $this->distinct[''] ?? 0;
            unset($this->distinct['']);
            $different += count($this->distinct) + ($this->emptyTexts > 0 ? 1 : 0);
            $this->strings = array_map('strval', array_keys($this->distinct));
            $this->longest = $this->strings === [] ? 0 : max(array_map('strlen', $this->strings));
        }
        $this->different = $different;
    }

    /**
     * What all numbers together need.
     */
    public function numbers(): NumbersSeen
    {
        return $this->numbers ??= new NumbersSeen($this->written, $this->least, $this->most);
    }

    public function isText(): bool
    {
        return $this->texts > 0 && $this->texts === $this->filled;
    }

    public function isNumber(): bool
    {
        return $this->integers + $this->long + $this->floats > 0 && $this->integers + $this->long + $this->floats === $this->filled;
    }

    /**
     * Different texts, those that are empty left out.
     *
     * @return list<string>
     */
    public function texts(): array
    {
        return $this->strings;
    }

    /**
     * Different texts that match.
     *
     * @return list<string>
     */
    public function matching(string $pattern): array
    {
        return $this->matching[$pattern] ??= array_values((array) preg_grep($pattern, $this->strings));
    }

    public function allMatch(string $pattern): bool
    {
        if ($this->distinct === []) {
            return false;
        }

        // Most patterns fail at the first text already.
        return preg_match($pattern, $this->strings[0]) === 1 && count($this->matching($pattern)) === count($this->strings);
    }

    /**
     * Whether no value occurs twice, and none is empty.
     *
     * @param  int  $records  how many there are
     */
    public function isKey(int $records): bool
    {
        return $this->filled === $records && $this->emptyTexts === 0 && $this->floats === 0 && $this->booleans === 0 && $this->different === $records && $this->longest <= 255 && ($this->integers === 0 || $this->texts === 0);
    }

    /**
     * A few values as a person would want to see them.
     *
     * @param  list<string|int|float|bool|JsonText|null>  $values
     * @return list<string>
     */
    public static function examples(array $values, int $most = 3): array
    {
        $found = [];
        foreach ($values as $value) {
            if ($value !== null && $value !== '') {
                $text = is_string($value) ? $value : ($value instanceof JsonText ? $value->json : (string) json_encode($value));
                $found[mb_strimwidth($text, 0, 60, '…', 'UTF-8')] = true;
            }
            if (count($found) >= $most) {
                break;
            }
        }

        return array_map(strval(...), array_keys($found));
    }
}
