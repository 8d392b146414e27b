<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

final readonly class FilterToken
{
    public function __construct(
        public FilterTokenKind $kind,
        public string $text,
        /** Characters before it. */
        public int $at,
        /** Of a literal: its type, or "" for null. */
        public string $type = '',
    ) {
    }

    public function is(string $text): bool
    {
        return $this->kind !== FilterTokenKind::Literal && $this->text === $text;
    }
}
