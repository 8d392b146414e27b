<?php

declare(strict_types=1);

namespace DeepSpring\Suggest;

/**
 * A setting of an endpoint that nobody made: it was suggested by an answer, or by the request as it was
 * pasted. It stands as a suggestion as long as the endpoint has the value that was suggested.
 */
final readonly class Suggestion
{
    /**
     * What is suggested → the stratum in which it stands.
     */
    public const PLACES = ['records' => 'answer', 'onward' => 'onward', 'table' => 'flatten', 'key' => 'flatten', 'columns' => 'flatten', 'inputs' => 'keep'];

    /**
     * @param  string  $place  one of PLACES
     * @param  mixed  $value  as `read` gives it
     * @param  string  $reason  a part of a sentence: why it is thought
     * @param  list<array{label: string, value: mixed}>  $others  what else it may be
     */
    public function __construct(public string $place, public mixed $value, public string $reason, public array $others = [])
    {
    }

    /**
     * @param  array<string, mixed>  $kept  as `toArray` gave it
     */
    public static function of(array $kept): self
    {
        return new self((string) $kept['place'], $kept['value'], (string) $kept['reason'], $kept['others'] ?? []);
    }

    /**
     * @return array{place: string, value: mixed, reason: string, others: list<array{label: string, value: mixed}>}
     */
    public function toArray(): array
    {
        return ['place' => $this->place, 'value' => $this->value, 'reason' => $this->reason, 'others' => $this->others];
    }

    public function stratum(): string
    {
        return self::PLACES[$this->place];
    }

    /**
     * Whether nobody changed it since.
     *
     * @param  array<string, mixed>  $endpoint
     */
    public function stands(array $endpoint): bool
    {
        return self::written(self::read($endpoint, $this->place)) === self::written($this->value);
    }

    /**
     * What an endpoint has at such a place; of its columns a fingerprint.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     */
    public static function read(array $endpoint, string $place): mixed
    {
        return match ($place) {
            'records' => array_intersect_key($endpoint['answer'] ?? [], ['records' => 1, 'rows' => 1]),
            'onward' => $endpoint['onward'] ?? ['style' => 'none'],
            'table' => $endpoint['flatten']['table'] ?? null,
            'key' => $endpoint['flatten']['key'] ?? [],
            'columns' => hash('xxh128', self::written($endpoint['flatten']['columns'] ?? [])),
            'inputs' => $endpoint['keep']['inputs'] ?? [],
            default => throw new \DomainException("Nothing is suggested at $place."),
        };
    }

    /**
     * The endpoint with another value there. Columns are not put this way.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    public static function put(array $endpoint, string $place, mixed $value): array
    {
        if ($place === 'records') {
            $answer = (array) $value + array_diff_key($endpoint['answer'] ?? [], ['records' => 1, 'rows' => 1]);
            unset($endpoint['answer']);

            return $answer === [] ? $endpoint : $endpoint + ['answer' => $answer];
        }
        if ($place === 'inputs') {
            unset($endpoint['keep']['inputs']);
            if ($value !== []) {
                $endpoint['keep']['inputs'] = $value;
            }

            return ($endpoint['keep'] ?? null) === [] ? array_diff_key($endpoint, ['keep' => 1]) : $endpoint;
        }
        if ($place === 'onward') {
            $endpoint['onward'] = $value;
        } elseif (in_array($place, ['table', 'key'], true)) {
            $endpoint['flatten'][$place] = $value;
        }

        return $endpoint;
    }

    private static function written(mixed $value): string
    {
        $sort = static function (mixed $one) use (&$sort): mixed {
            if (is_array($one)) {
                $one = array_map($sort, $one);
                array_is_list($one) || ksort($one);
            }

            return $one;
        };

        return (string) json_encode($sort($value), JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
