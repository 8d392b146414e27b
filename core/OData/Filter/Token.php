<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

final readonly class Token
{
    public function __construct(
        public TokenKind $kind,
        public string $text,
        /** Characters before it. */
        public int $at,
        /** Of a literal: its type, or "" for null. */
        public string $type = '',
    ) {
    }

    public function is(string $text): bool
    {
        return $this->kind !== TokenKind::Literal && $this->text === $text;
    }
}
