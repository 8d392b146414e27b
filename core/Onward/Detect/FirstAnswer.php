<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Flatten\Proposal\AnswerColumns;

/**
 * The first answer of a list, with the request it answers: all that detection goes by.
 */
final readonly class FirstAnswer
{
    /** @var list<mixed> */
    public array $records;

    /** @var list<AnswerMember> everything in the answer that is no record */
    public array $members;

    /** @var array<array-key, string> what was sent in the query */
    public array $sent;

    /**
     * @param  array<string, string>  $headers  of the answer, by name in lower case
     * @param  string|null  $recordsPath  where the records are; guessed when null
     * @param  list<string>  $known  names of query parameters that the endpoint has, by its description
     */
    public function __construct(public string $method, public string $uri, public int $status, public array $headers, public mixed $document, ?string $recordsPath = null, public array $known = [])
    {
        $path = $recordsPath ?? AnswerColumns::recordsIn($document);
        $this->records = $path === null ? [] : JsonPath::parse($path)->values($document);
        parse_str((string) parse_url($uri, PHP_URL_QUERY), $query);
        $this->sent = array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $query);
        $members = [];
        if ($document instanceof \stdClass && $path !== null) {
            AnswerMember::collect($document, '$', '', $this->records, $members, 0);
        }
        $this->members = $members;
    }

    /**
     * The first member with such a name, and such a value.
     *
     * @param  \Closure(AnswerMember): bool  $fits
     */
    public function member(string $names, \Closure $fits): ?AnswerMember
    {
        foreach ($this->members as $member) {
            if (preg_match($names, $member->plain) === 1 && $fits($member)) {
                return $member;
            }
        }

        return null;
    }

    /**
     * A whole number at such a name.
     */
    public function figure(string $names, int $least = 0): ?AnswerMember
    {
        return $this->member($names, static fn (AnswerMember $member): bool => ($member->number() ?? -1) >= $least);
    }

    /**
     * A parameter with such a name that was sent or that the endpoint is known to have.
     */
    public function parameter(string $names): ?string
    {
        foreach ([...array_map(strval(...), array_keys($this->sent)), ...$this->known] as $name) {
            if (preg_match($names, AnswerMember::plainly($name)) === 1) {
                return $name;
            }
        }

        return null;
    }

    /**
     * How many records a page holds, as the request or the answer says it: the parameter's name, if
     * it is known, and the number.
     *
     * @return array{size_as?: string, size?: int}
     */
    public function size(): array
    {
        $parameter = $this->parameter(ParameterNames::SIZE);
        $stated = $this->figure(ParameterNames::SIZE, 1);
        if ($parameter !== null && ctype_digit($this->sent[$parameter] ?? '') && (int) $this->sent[$parameter] > 0) {
            return ['size_as' => $parameter, 'size' => min(100_000, (int) $this->sent[$parameter])];
        }
        $size = $stated?->number() ?? count($this->records);
        if ($size < 1) {
            return [];
        }
        if ($parameter !== null) {
            return ['size_as' => $parameter, 'size' => min(100_000, $size)];
        }

        return $stated === null || preg_match(ParameterNames::SIZE_SENT, $stated->plain) !== 1 ? [] : ['size_as' => $stated->name, 'size' => min(100_000, $size)];
    }

    /**
     * Where it stands how many records there are, when that is more than came.
     *
     * @return array{total?: string}
     */
    public function total(): array
    {
        $count = count($this->records);
        $member = $count === 0 ? null : $this->figure(ParameterNames::TOTAL, $count + 1);
        if ($member !== null) {
            return ['total' => $member->path];
        }
        foreach ($count === 0 ? [] : $this->headers as $name => $value) {
            if (preg_match(ParameterNames::TOTAL_HEADER, $name) === 1 && ctype_digit(trim($value)) && (int) $value > $count) {
                return ['total' => $name];
            }
        }

        return [];
    }
}
