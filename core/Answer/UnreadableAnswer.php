<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * A body that is not what it should be.
 */
final class UnreadableAnswer extends \RuntimeException
{
    private function __construct(
        public readonly UnreadableKind $kind,
        string $message,
        /** Offset in bytes where reading failed; null when that says nothing. */
        public readonly ?int $position = null,
    ) {
        parent::__construct($message);
    }

    public static function empty(): self
    {
        return new self(UnreadableKind::Empty, 'The answer has no body.');
    }

    public static function html(string $title): self
    {
        return new self(UnreadableKind::Html, 'The answer is a web page, not JSON'.($title === '' ? '.' : ": \"$title\"."));
    }

    public static function notJson(string $why, int $position, string $around): self
    {
        return new self(UnreadableKind::NotJson, "The answer is not JSON: $why at byte $position".($around === '' ? '.' : ", near \"$around\"."), $position);
    }

    public static function beyondReading(string $why): self
    {
        return new self(UnreadableKind::NotJson, "The answer cannot be read: $why.");
    }
}
