<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Takes secrets out of anything that will be shown, stored or logged: as they are, percent-encoded,
 * in Base64 and as JSON writes them.
 */
final readonly class Mask
{
    private const DOTS = '••••••';

    /** Values shorter than this are not searched for in free text, where they would hit by chance. */
    private const SHORTEST = 4;

    /** @var array<string, string> */
    private array $pairs;

    /**
     * @param  list<string>  $secrets
     */
    public function __construct(#[\SensitiveParameter] array $secrets)
    {
        $pairs = [];
        foreach ($secrets as $secret) {
            if (strlen($secret) < self::SHORTEST) {
                continue;
            }
            $shown = self::shown($secret);
            foreach ([$secret, rawurlencode($secret), urlencode($secret), base64_encode($secret), substr((string) json_encode($secret, JSON_INVALID_UTF8_SUBSTITUTE), 1, -1), substr((string) json_encode($secret, JSON_INVALID_UTF8_SUBSTITUTE | JSON_UNESCAPED_SLASHES), 1, -1)] as $form) {
                $pairs[$form] = $shown;
            }
        }
        $this->pairs = $pairs;
    }

    /**
     * Six dots, and the last four characters of what is long enough to spare them. The end of a name
     * and password in Base64 is the end of the password, which may be short, so it is not shown.
     */
    public static function shown(#[\SensitiveParameter] string $secret): string
    {
        $isPair = str_contains((string) base64_decode($secret, true), ':');

        return self::DOTS.(! $isPair && strlen($secret) >= 16 && preg_match('/^[\x21-\x7e]{4}$/D', substr($secret, -4)) === 1 ? substr($secret, -4) : '');
    }

    public function apply(string $text): string
    {
        return $this->pairs === [] ? $text : strtr($text, $this->pairs);
    }

    public function touches(string $text): bool
    {
        return $this->apply($text) !== $text;
    }
}
