<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * A field of a scheme: written out, or the name of a secret.
 */
final readonly class Value
{
    private function __construct(public string $text, public bool $secret)
    {
    }

    /**
     * @param  string|array{secret: string}  $value
     */
    public static function of(string|array $value): self
    {
        return is_array($value) ? new self($value['secret'], true) : new self($value, false);
    }

    /**
     * @throws MissingSecret
     */
    public function reveal(Secrets $secrets): string
    {
        return $this->secret ? $secrets->get($this->text) : $this->text;
    }

    /**
     * @return list<string>
     */
    public function secretNames(): array
    {
        return $this->secret ? [$this->text] : [];
    }
}
