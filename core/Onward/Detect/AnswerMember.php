<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Flatten\Proposal\AnswerColumns;

/**
 * A scalar in an answer, beside the records.
 */
final readonly class AnswerMember
{
    private const DEPTH = 4;

    private function __construct(
        public string $path,
        public string $name,
        /** The name in lower case, without marks between its words. */
        public string $plain,
        /** Likewise the name of what it stands in; empty at the top. */
        public string $parent,
        public string|int|float|bool|null $value,
    ) {
    }

    public static function plainly(string $name): string
    {
        return strtolower((string) preg_replace('/[^A-Za-z0-9]/', '', $name));
    }

    /**
     * @param  list<mixed>  $records
     * @param  list<self>  $members
     */
    public static function collect(\stdClass $object, string $path, string $parent, array $records, array &$members, int $depth): void
    {
        foreach (get_object_vars($object) as $name => $value) {
            $name = (string) $name;
            $at = $path.AnswerColumns::step($name);
            if (is_scalar($value) || $value === null) {
                $members[] = new self($at, $name, self::plainly($name), self::plainly($parent), $value);
            } elseif ($value instanceof \stdClass && $depth < self::DEPTH && ($records[0] ?? null) !== $value) {
                self::collect($value, $at, $name, $records, $members, $depth + 1);
            } elseif (is_array($value) && ($value[0] ?? null) instanceof \stdClass && $value[0] !== ($records[0] ?? null) && isset($value[0]->rel)) {
                self::links(array_values($value), $at, $members);
            }
        }
    }

    /**
     * Links as a list of objects with a relation each.
     *
     * @param  list<mixed>  $links
     * @param  list<self>  $members
     */
    private static function links(array $links, string $at, array &$members): void
    {
        foreach ($links as $link) {
            $rel = $link->rel ?? null;
            foreach (['href', 'url', 'uri'] as $name) {
                if (is_string($rel) && preg_match("/^[\w:.-]+$/D", $rel) === 1 && is_string($link->{$name} ?? null)) {
                    $members[] = new self("{$at}[?@.rel == '$rel'].$name", $rel, self::plainly($rel), 'links', $link->{$name});
                }
            }
        }
    }

    public function number(): ?int
    {
        if (is_float($this->value) && floor($this->value) === $this->value && abs($this->value) < 1e15) {
            return (int) $this->value;
        }

        return is_int($this->value) || is_string($this->value) && preg_match('/^\d{1,15}$/D', $this->value) === 1 ? (int) $this->value : null;
    }

    /**
     * Whether its value reads as an address: with a scheme, from the root, or a query alone.
     */
    public function isLink(): bool
    {
        return is_string($this->value) && preg_match('~^(?:https?://[^\s"<>]+|/[^\s"<>]*|\?[^\s"<>]+=[^\s"<>]*|[\w./-]+\?[^\s"<>]+=[^\s"<>]*)$~D', $this->value) === 1;
    }

    /**
     * Whether its value can be sent back as a token.
     */
    public function isToken(): bool
    {
        return is_int($this->value) || is_string($this->value) && $this->value !== '' && strlen($this->value) <= 4096 && ! $this->isLink();
    }

    public function shown(): string
    {
        return (string) json_encode($this->value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR);
    }
}
