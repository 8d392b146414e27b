<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * A text with `{name}` where an input goes, as RFC 6570 level 1 writes it; a literal brace is doubled.
 */
final readonly class Template
{
    private const PART = '/\{\{|\}\}|\{([^{}]+)\}|[{}]/';

    public function __construct(private string $text)
    {
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        preg_match_all(self::PART, $this->text, $found);

        return array_values(array_unique(array_filter($found[1], static fn (string $name): bool => $name !== '')));
    }

    /**
     * The character where a brace stands alone, counted from 1; null when none does.
     */
    public function strayBrace(): ?int
    {
        preg_match_all(self::PART, $this->text, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE);
        foreach ($found as $one) {
            if (strlen($one[0][0]) === 1) {
                return mb_strlen(substr($this->text, 0, $one[0][1]), 'UTF-8') + 1;
            }
        }

        return null;
    }

    /**
     * @param  \Closure(string): string  $value  of a name
     */
    public function fill(\Closure $value): string
    {
        return (string) preg_replace_callback(self::PART, static fn (array $part): string => match (true) {
            $part[0] === '{{' => '{',
            $part[0] === '}}' => '}',
            isset($part[1]) => $value($part[1]),
            default => $part[0],
        }, $this->text);
    }
}
