<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Field values of RFC 9110 §5.5: no line break, no control character.
 */
final class HeaderValue
{
    /**
     * @throws UnusableSecret
     */
    public static function checked(#[\SensitiveParameter] string $value, string $what): string
    {
        if (preg_match('/[\x00-\x08\x0a-\x1f\x7f]/', $value) === 1) {
            throw UnusableSecret::withControlCharacters($what);
        }

        return $value;
    }
}
