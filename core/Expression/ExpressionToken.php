<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

final readonly class ExpressionToken
{
    public function __construct(
        public ExpressionTokenKind $kind,
        /** A literal text is without its quotes. */
        public string $text,
        /** Characters before it. */
        public int $position,
    ) {
    }

    public function is(string ...$texts): bool
    {
        return ($this->kind === ExpressionTokenKind::Mark || $this->kind === ExpressionTokenKind::Word) && in_array($this->text, $texts, true);
    }
}
