<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Ask\EndpointRole;

/**
 * What an endpoint is called when nobody named it: after what it does and the things it is about.
 */
final class EndpointNames
{
    public static function of(EndpointRole $does, string $path): string
    {
        $words = array_values(array_filter(explode('/', $path), static fn (string $part): bool => $part !== '' && preg_match('/[{}]|^v\d+(?:\.\d+)*$/', $part) !== 1));
        $things = self::words(end($words) ?: 'records');
        $thing = self::singular($things);

        return match ($does) {
            EndpointRole::List => ucfirst($things),
            EndpointRole::Get => self::article('One', $thing),
            EndpointRole::Create => self::article('Create', $thing),
            EndpointRole::Update => self::article('Change', $thing),
            EndpointRole::Delete => self::article('Delete', $thing),
            EndpointRole::Call => ucfirst($things).(count($words) > 1 ? ' '.self::article('', self::singular(self::words($words[count($words) - 2]))) : ''),
        };
    }

    public static function singular(string $word): string
    {
        return match (true) {
            str_ends_with($word, 'ies') && strlen($word) > 4 => substr($word, 0, -3).'y',
            preg_match('/(?:ss|us|is)$/', $word) === 1 => $word,
            preg_match('/(?:ch|sh|x|ss)es$/', $word) === 1 => substr($word, 0, -2),
            str_ends_with($word, 's') => substr($word, 0, -1),
            default => $word,
        };
    }

    private static function words(string $text): string
    {
        return trim(strtolower((string) preg_replace(['/(?<=[a-z0-9])(?=[A-Z])/', '/[^\pL\pN]+/u'], ' ', rawurldecode($text)))) ?: 'records';
    }

    private static function article(string $verb, string $thing): string
    {
        return trim($verb.($verb === 'One' ? '' : ' '.(preg_match('/^[aeiou]/', $thing) === 1 ? 'an' : 'a')).' '.$thing);
    }
}
