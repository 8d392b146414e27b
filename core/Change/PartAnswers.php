<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Ask\Body\JsonBody;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\JsonText;

/**
 * The answer to a request with several records → what it says of each: a list of answers, matched by a value or by
 * their order; or errors that point into the list that was sent (RFC 9457, RFC 6901).
 */
final readonly class PartAnswers
{
    /**
     * @param  array{at?: string, status?: string, body?: string, error?: string, match?: array{path: string, input: string}}  $parts  of a source file
     * @param  string  $each  where in the body the records stood, like `changes`
     */
    private function __construct(private array $parts, private string $each)
    {
    }

    public static function of(EndpointDefinition $endpoint): self
    {
        $body = $endpoint->ask()->body;

        return new self($endpoint->endpoint['answer']['parts'] ?? [], $body instanceof JsonBody ? ltrim((string) $body->each, '$.') : '');
    }

    /**
     * @param  list<array<string, list<string>>>  $records  the inputs of each, in the order in which they were sent
     * @return list<PartAnswer|null> in the same order; null where the answer does not say what came of it
     */
    public function split(int $status, string $body, array $records): array
    {
        $document = json_decode($body);
        $exact = self::exact($body);
        $nodes = $this->parts === [] || $exact === null ? [] : JsonPath::parse($this->parts['at'] ?? '$')->nodes($document);
        if ($nodes !== []) {
            return $this->matched($nodes, $exact, $records);
        }
        if ($status >= 400) {
            return $this->pointed($status, $body, count($records));
        }

        // Without a list of answers, one stands for all; with one that should be there and is not, nothing is known.
        return array_fill(0, count($records), $this->parts === [] ? new PartAnswer($status, '') : null);
    }

    private static function exact(string $body): mixed
    {
        try {
            return JsonText::decode($body);
        } catch (\JsonException) {
            return null;
        }
    }

    /**
     * @param  list<JsonNode>  $nodes
     * @param  list<array<string, list<string>>>  $records
     * @return list<PartAnswer|null>
     */
    private function matched(array $nodes, mixed $exact, array $records): array
    {
        $match = $this->parts['match'] ?? null;
        if ($match === null) {
            return count($nodes) === count($records) ? array_map(fn (JsonNode $node): ?PartAnswer => $this->answer($node, $exact), $nodes) : array_fill(0, count($records), null);
        }
        $found = [];
        foreach ($nodes as $node) {
            $found[self::encoded($node, $match['path'], $exact)][] = $node;
        }
        $answers = [];
        foreach ($records as $record) {
            $wanted = $record[$match['input']][0] ?? '';
            $some = [...$found[JsonText::encode($wanted)] ?? [], ...$found[$wanted] ?? []];
            // Two answers about one record contradict each other, or one of them is about another.
            $answers[] = count($some) === 1 ? $this->answer($some[0], $exact) : null;
        }

        return $answers;
    }

    private function answer(JsonNode $node, mixed $exact): ?PartAnswer
    {
        $at = static fn (?string $path): mixed => $path === null ? null : JsonPath::parse($path)->values($node->value)[0] ?? null;
        $error = $at($this->parts['error'] ?? null);
        $body = self::encoded($node, $error === null ? $this->parts['body'] ?? null : $this->parts['error'] ?? null, $exact);
        $said = $at($this->parts['status'] ?? null);
        // A problem says its own status (RFC 9457 §3.1.2).
        $said ??= is_object($error) ? $error->status ?? null : null;
        if ($said === null) {
            return isset($this->parts['status']) ? null : new PartAnswer($error === null ? 200 : 422, $body);
        }

        return (is_int($said) || is_string($said)) && preg_match('/^[1-5]\d\d$/D', (string) $said) === 1 ? new PartAnswer((int) $said, $body) : null;
    }

    /**
     * What stands at a path in a part, as the service wrote it; empty where nothing does.
     *
     * @param  mixed  $exact  the whole answer, with the digits of its numbers
     */
    private static function encoded(JsonNode $node, ?string $path, mixed $exact): string
    {
        $inner = $path === null ? null : JsonPath::parse($path)->nodes($node->value)[0] ?? null;
        foreach ([...$node->location->steps(), ...($inner === null ? [] : $inner->location->steps())] as $step) {
            $exact = ((array) $exact)[$step] ?? null;
        }

        return $path !== null && $inner === null || $exact === null ? '' : JsonText::encode($exact);
    }

    /**
     * The whole was refused: errors that point at records are those of the records, and the others were not touched.
     *
     * @return list<PartAnswer|null>
     */
    private function pointed(int $status, string $body, int $count): array
    {
        $errors = FieldErrors::read($body);
        $by = [];
        foreach ($errors->fields as $place => $text) {
            if (preg_match('/^(?:'.preg_quote($this->each, '/').'\.)?(\d{1,9})(?:\.(.+))?$/sD', $place, $part) === 1 && (int) $part[1] < $count) {
                $by[(int) $part[1]][] = (object) (isset($part[2]) ? ['field' => $part[2], 'detail' => $text] : ['detail' => $text]);
            }
        }
        if ($by === []) {
            return array_fill(0, $count, new PartAnswer($status, $body));
        }

        return array_map(static fn (int $number): PartAnswer => isset($by[$number])
            ? new PartAnswer($status, JsonText::encode((object) ['detail' => $errors->text, 'errors' => $by[$number]]))
            : new PartAnswer($status, '', true), range(0, $count - 1));
    }
}
