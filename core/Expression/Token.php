<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

final readonly class Token
{
    public function __construct(
        public TokenKind $kind,
        /** A literal text is without its quotes. */
        public string $text,
        /** Characters before it. */
        public int $position,
    ) {
    }

    public function is(string ...$texts): bool
    {
        return ($this->kind === TokenKind::Mark || $this->kind === TokenKind::Word) && in_array($this->text, $texts, true);
    }
}
