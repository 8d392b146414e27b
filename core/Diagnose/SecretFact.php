<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * What can be said of a secret without saying what it is.
 */
final readonly class SecretFact
{
    /**
     * @param  list<string>  $sameIn  names of other environments that have the same value
     */
    public function __construct(
        public string $name,
        public bool $quoted = false,
        public bool $spaced = false,
        /** A scheme word in front of it, like "Bearer". */
        public ?string $prefixed = null,
        public array $sameIn = [],
    ) {
    }

    /**
     * @param  array<string, string>  $elsewhere  values of the same secret by name of the environment
     */
    public static function of(string $name, #[\SensitiveParameter] string $value, #[\SensitiveParameter] array $elsewhere = []): self
    {
        return new self(
            $name,
            preg_match('/^\s*(["\'`]).*\1\s*$/sD', $value) === 1,
            trim($value) !== $value || preg_match('/[\r\n]/', trim($value)) === 1 && ! str_contains($value, '-----BEGIN'),
            preg_match('/^\s*["\']?(Bearer|Basic|Token|ApiKey)\s+\S/i', $value, $part) === 1 ? $part[1] : null,
            array_keys(array_filter($elsewhere, static fn (string $other): bool => hash_equals($other, $value))),
        );
    }

    /**
     * The value without what was pasted with it.
     */
    public static function cleaned(#[\SensitiveParameter] string $value): string
    {
        do {
            $before = $value;
            $value = (string) preg_replace('/^(["\'`])(.*)\1$/sD', '$2', trim($value));
            $value = (string) preg_replace('/^(?:Bearer|Basic|Token|ApiKey)\s+(?=\S)/i', '', $value);
            $value = str_contains($value, '-----BEGIN') ? $value : (string) preg_replace('/\s*[\r\n]+\s*/', '', $value);
        } while ($value !== $before);

        return $value;
    }
}
