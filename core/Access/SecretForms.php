<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * How a secret looks when a service, a library or a proxy writes it down again: as it is, in Base64
 * (RFC 4648 §4 and §5) by itself or somewhere inside a longer text, in Base64 twice, in hexadecimal,
 * and each of them with its signs escaped for an address, JSON or HTML.
 */
final readonly class SecretForms
{
    /** Characters of a text in Base64 that depend on nothing before it, where it begins after so many bytes. */
    private const SKIP = [0, 2, 3];

    /** Signs below which a text in Base64 would be found by chance. */
    private const SHORTEST = 6;

    /** Signs at which the beginning of a long secret is known for certain; what follows belongs to it. */
    private const PREFIX = 96;

    /**
     * What a text that holds the secret holds, escapes taken out of it.
     *
     * @return list<string> longest first
     */
    public static function plain(#[\SensitiveParameter] string $secret): array
    {
        $whole = rtrim(base64_encode($secret), '=');
        $forms = [$secret, base64_encode($secret), $whole, strtr($whole, '+/', '-_'), bin2hex($secret), strtoupper(bin2hex($secret))];
        foreach (self::inBase64($secret) as $once) {
            $forms[] = $once;
            array_push($forms, ...self::inBase64($once));
        }
        // Of the whole Base64 text, padding included, once more.
        array_push($forms, ...self::inBase64(base64_encode($secret)));

        return self::sorted($forms);
    }

    /**
     * Those, and what common encoders make of them.
     *
     * @param  list<string>  $plain
     * @return list<string> longest first
     */
    public static function escaped(#[\SensitiveParameter] array $plain): array
    {
        $forms = $plain;
        foreach ($plain as $form) {
            if (preg_match('/^[A-Za-z0-9_.~-]*$/D', $form) === 1) {
                continue;
            }
            array_push(
                $forms, rawurlencode($form), urlencode($form),
                substr((string) json_encode($form, JSON_INVALID_UTF8_SUBSTITUTE), 1, -1),
                substr((string) json_encode($form, JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES), 1, -1),
                substr((string) json_encode($form, JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE), 1, -1),
                htmlspecialchars($form, ENT_QUOTES | ENT_SUBSTITUTE), htmlspecialchars($form, ENT_QUOTES | ENT_SUBSTITUTE | ENT_HTML5),
            );
        }

        return self::sorted($forms);
    }

    /**
     * A pattern that finds a form whichever of its signs are escaped, and how.
     */
    public static function pattern(#[\SensitiveParameter] string $form): string
    {
        $pattern = '';
        foreach (str_split(substr($form, 0, self::PREFIX)) as $sign) {
            $code = ord($sign);
            $hex = preg_replace_callback('/[a-f]/', static fn (array $digit): string => '['.$digit[0].strtoupper($digit[0]).']', sprintf('%02x', $code));
            $named = ['&' => 'amp', '<' => 'lt', '>' => 'gt', '"' => 'quot', "'" => 'apos', '/' => 'sol', '+' => 'plus', '=' => 'equals', ':' => 'colon'][$sign] ?? null;
            $pattern .= '(?:'.preg_quote($sign, '~')."|%(?:25)*$hex|\\\\{1,2}u00$hex|\\\\{1,2}x$hex|&\\#(?:0*$code|[xX]0*$hex);?"
                .($named === null ? '' : "|&$named;").(in_array($sign, ['/', '"', '\\'], true) ? '|\\\\{1,2}'.preg_quote($sign, '~') : '').($sign === ' ' ? '|\\+' : '').')';
        }

        return "~$pattern".(strlen($form) > self::PREFIX ? '(?:[A-Za-z0-9._+/=\\~-]|%[0-9a-fA-F]{2}|\\\\u00[0-9a-fA-F]{2}|\\\\[/n])*' : '').'~';
    }

    /**
     * The part of a text's Base64 that is the same wherever it stands inside a longer text.
     *
     * @return list<string> in both alphabets
     */
    private static function inBase64(string $text): array
    {
        $forms = [];
        foreach (self::SKIP as $before => $skip) {
            $bits = 8 * ($before + strlen($text));
            $stable = substr(base64_encode(str_repeat("\0", $before).$text), 0, intdiv($bits, 6));
            $form = substr($stable, $skip);
            if (strlen($form) >= self::SHORTEST) {
                array_push($forms, $form, strtr($form, '+/', '-_'));
            }
        }

        return $forms;
    }

    /**
     * @param  list<string>  $forms
     * @return list<string>
     */
    private static function sorted(array $forms): array
    {
        $forms = array_values(array_unique($forms));
        usort($forms, static fn (string $a, string $b): int => strlen($b) <=> strlen($a));

        return $forms;
    }
}
