<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Takes secrets out of anything that will be shown, stored or logged, in every form that
 * `SecretForms` knows, whichever of its signs are escaped.
 */
final class SecretMask
{
    public const DOTS = '••••••';

    /** Values shorter than this are not searched for in free text, where they would hit by chance. */
    private const SHORTEST = 4;

    /** Signs of a line of a longer secret (a key in PEM) that are a secret by themselves. */
    private const LINE = 16;

    /** Escapes of signs that may stand in a secret. */
    private const ESCAPES = '/%(?:25)*[2-7][0-9a-f]|\\\\u00[2-7]|\\\\x[2-7]|\\\\["\/\\\\]|&(?:#|[a-z]{2,6};)/i';

    /** Bytes of text that are looked at without their escapes at once. */
    private const PIECE = 1 << 20;

    /** Bytes that one sign may take when it is escaped twice. */
    private const LONGEST_ESCAPE = 16;

    /** @var array<string, string> secret → what is shown of it */
    private readonly array $secrets;

    /** @var list<string>|null forms without escapes */
    private ?array $plain = null;

    /** @var array<string, string>|null form → what is shown */
    private ?array $pairs = null;

    /**
     * @param  list<string>  $secrets
     */
    public function __construct(#[\SensitiveParameter] array $secrets)
    {
        $all = [];
        foreach ($secrets as $secret) {
            if (strlen($secret) >= self::SHORTEST) {
                $all[$secret] = self::shown($secret);
            }
            foreach (str_contains($secret, "\n") ? preg_split('/\R/', $secret) ?: [] : [] as $line) {
                if (strlen($line) >= self::LINE && ! str_starts_with($line, '-----')) {
                    $all[$line] = self::DOTS;
                }
            }
        }
        $this->secrets = $all;
    }

    /**
     * Six dots, and the last four characters of what is long enough to spare them. The end of a name
     * and password in Base64 is the end of the password, which may be short, so it is not shown.
     */
    public static function shown(#[\SensitiveParameter] string $secret): string
    {
        $isPair = str_contains((string) base64_decode($secret, true), ':');

        return self::DOTS.(! $isPair && strlen($secret) >= 16 && preg_match('/^[A-Za-z0-9._~+=-]{4}$/D', substr($secret, -4)) === 1 ? substr($secret, -4) : '');
    }

    public function apply(string $text): string
    {
        if (! $this->touches($text)) {
            return $text;
        }
        $masked = strtr($text, $this->pairs());
        if (! $this->touches($masked)) {
            return $masked;
        }
        foreach ($this->secrets as $secret => $shown) {
            foreach (SecretForms::plain((string) $secret) as $form) {
                $found = preg_replace(SecretForms::pattern($form), $shown, $masked);
                $masked = $found ?? self::DOTS;
            }
        }

        // Whatever is escaped in a way of its own is not shown at all.
        return $this->touches($masked) ? self::DOTS : $masked;
    }

    /**
     * Whether a text holds a secret in any form.
     */
    public function touches(string $text): bool
    {
        if ($this->secrets === [] || strlen($text) < self::SHORTEST) {
            return false;
        }
        if ($this->holds($text)) {
            return true;
        }
        // In pieces, since text without its escapes is a copy, and a copy of that.
        $overlap = $this->longest() * self::LONGEST_ESCAPE;
        for ($at = 0; $at < strlen($text); $at += self::PIECE) {
            $piece = $at === 0 && strlen($text) <= self::PIECE + $overlap ? $text : substr($text, $at, self::PIECE + $overlap);
            if ($this->touchesEscaped($piece)) {
                return true;
            }
            if ($at + strlen($piece) >= strlen($text)) {
                break;
            }
        }

        return false;
    }

    private function touchesEscaped(string $text): bool
    {
        if (preg_match(self::ESCAPES, $text) !== 1) {
            return false;
        }
        $bare = self::unescaped($text);

        return $bare !== $text && ($this->holds($bare) || preg_match(self::ESCAPES, $bare) === 1 && $this->holds(self::unescaped($bare)));
    }

    /**
     * Bytes of the longest form that a secret has without escapes.
     */
    private function longest(): int
    {
        return max([0, ...array_map(strlen(...), $this->plainForms())]);
    }

    /**
     * Whether a text is a secret and nothing else.
     */
    public function is(string $text): bool
    {
        return isset($this->secrets[$text]);
    }

    private function holds(string $text): bool
    {
        foreach ($this->plainForms() as $form) {
            if (str_contains($text, $form)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return list<string>
     */
    private function plainForms(): array
    {
        return $this->plain ??= array_values(array_unique(array_merge(...array_map(self::looked(...), array_map(strval(...), array_keys($this->secrets))))));
    }

    /**
     * What is looked for first: forms without escapes, and what usual encoders make of the secret itself.
     *
     * @return list<string>
     */
    private static function looked(#[\SensitiveParameter] string $secret): array
    {
        return [...SecretForms::plain($secret), ...SecretForms::escaped([$secret])];
    }

    /**
     * The text with escapes of addresses, JSON and HTML taken out, as far as they stand for ASCII.
     */
    private static function unescaped(string $text): string
    {
        if (str_contains($text, '%')) {
            $text = rawurldecode($text);
        }
        if (str_contains($text, '&')) {
            $text = html_entity_decode($text, ENT_QUOTES | ENT_HTML5);
            $text = (string) preg_replace_callback('/&#(?:x0*([2-7][0-9a-f])|0*(\d{2,3}))(?![0-9a-f])/i', static fn (array $code): string => chr(($code[2] ?? '') !== '' ? (int) $code[2] & 0x7F : (int) hexdec($code[1])), $text);
        }
        if (str_contains($text, '\\')) {
            $text = (string) preg_replace_callback('/\\\\(?:u00|x)([2-7][0-9a-f])|\\\\(["\/\\\\])/i', static fn (array $code): string => ($code[2] ?? '') !== '' ? $code[2] : chr((int) hexdec($code[1])), $text);
        }

        return $text;
    }

    /**
     * @return array<string, string>
     */
    private function pairs(): array
    {
        if ($this->pairs === null) {
            $pairs = [];
            foreach ($this->secrets as $secret => $shown) {
                foreach (SecretForms::escaped(SecretForms::plain((string) $secret)) as $form) {
                    $pairs[$form] ??= $shown;
                }
            }
            $this->pairs = $pairs;
        }

        return $this->pairs;
    }
}
