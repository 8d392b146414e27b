<?php

declare(strict_types=1);

namespace DeepSpring\Identity;

/**
 * Base32 (RFC 4648 §6), without padding: how authenticators take a secret that is typed.
 */
final readonly class Base32
{
    private const SIGNS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

    public static function encode(#[\SensitiveParameter] string $bytes): string
    {
        $bits = implode('', array_map(static fn (string $byte): string => sprintf('%08b', ord($byte)), $bytes === '' ? [] : str_split($bytes)));
        $text = '';
        foreach ($bits === '' ? [] : str_split($bits, 5) as $five) {
            $text .= self::SIGNS[(int) bindec(str_pad($five, 5, '0'))];
        }

        return $text;
    }

    /**
     * @return string|null null when it is no Base32; blanks, padding and small letters are taken
     */
    public static function decode(#[\SensitiveParameter] string $text): ?string
    {
        $text = strtoupper((string) preg_replace('/[\s=-]+/', '', $text));
        if (preg_match('/[^A-Z2-7]/', $text) === 1) {
            return null;
        }
        $bits = '';
        foreach ($text === '' ? [] : str_split($text) as $sign) {
            $bits .= sprintf('%05b', strpos(self::SIGNS, $sign));
        }
        $bytes = '';
        foreach ($bits === '' ? [] : str_split($bits, 8) as $eight) {
            $bytes .= strlen($eight) === 8 ? chr((int) bindec($eight)) : '';
        }

        return $bytes;
    }
}
