<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\ConsumerKey;
use App\Models\Joined;
use App\Secrets\Vault;
use Illuminate\Support\Carbon;

/**
 * Tokens that stand for a key for a quarter of an hour: its number and when it ends, sealed (HMAC, RFC 2104, with
 * SHA-256). None is written down, and all of a key's end with it.
 */
final readonly class ShortTokens
{
    public const BEGINNING = 'dst_';

    public const SECONDS = 900;

    public function __construct(private Vault $vault)
    {
    }

    public function give(ConsumerKey $key): string
    {
        $text = self::encoded((string) json_encode([$key->id, Carbon::now()->getTimestamp() + self::SECONDS]));

        return self::BEGINNING."$text.".self::encoded($this->sealOf($text));
    }

    /**
     * The key that a token stands for; null where it is none of ours, or over.
     */
    public function key(#[\SensitiveParameter] string $token): ?ConsumerKey
    {
        [$text, $seal] = explode('.', substr($token, strlen(self::BEGINNING)), 2) + [1 => ''];
        if (strlen($token) > 300 || ! hash_equals(self::encoded($this->sealOf($text)), $seal)) {
            return null;
        }
        $said = json_decode((string) base64_decode(strtr($text, '-_', '+/'), true), true);
        [$id, $ends] = is_array($said) ? $said + [0, 0] : [0, 0];

        return is_int($id) && is_int($ends) && $ends > Carbon::now()->getTimestamp() ? Joined::first(ConsumerKey::query()->whereKey($id), 'consumer') : null;
    }

    private function sealOf(string $text): string
    {
        return hash_hmac('sha256', $text, $this->vault->derive('short tokens'), true);
    }

    private static function encoded(string $bytes): string
    {
        return rtrim(strtr(base64_encode($bytes), '+/', '-_'), '=');
    }
}
