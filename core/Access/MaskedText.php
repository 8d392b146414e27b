<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * An answer without secrets that can still be read as what it was: in JSON texts and numbers are
 * masked one by one, everything else as a whole.
 */
final readonly class MaskedText
{
    private const TOKENS = '/"[^"\\\\]*+(?:\\\\.[^"\\\\]*+)*+"|-?\d[\d.eE+-]*+/s';

    public function __construct(private SecretMask $mask)
    {
    }

    public function of(string $body): string
    {
        if (preg_match('/^(?:\xEF\xBB\xBF)?\s*[\[{"]/', $body) !== 1) {
            return $this->mask->apply($body);
        }
        $masked = preg_replace_callback(self::TOKENS, fn (array $token): string => $this->token($token[0]), $body);

        return $masked ?? $this->mask->apply($body);
    }

    /**
     * The same of a value that was read: its texts, its numbers and the names of its members.
     */
    public function value(mixed $value): mixed
    {
        if (is_string($value)) {
            return $this->mask->apply($value);
        }
        if (is_int($value) || is_float($value)) {
            return $this->mask->is((string) $value) ? SecretMask::DOTS : $value;
        }
        if (is_array($value)) {
            return array_map($this->value(...), $value);
        }
        if ($value instanceof \stdClass) {
            $masked = new \stdClass;
            foreach (get_object_vars($value) as $name => $one) {
                $masked->{$this->mask->apply((string) $name)} = $this->value($one);
            }

            return $masked;
        }

        return $value;
    }

    private function token(string $token): string
    {
        if ($token[0] === '"') {
            return '"'.$this->mask->apply(substr($token, 1, -1)).'"';
        }

        // A number that has the same digits somewhere in it is another number.
        return $this->mask->is($token) ? '"'.SecretMask::DOTS.'"' : $token;
    }
}
