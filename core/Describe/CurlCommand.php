<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * A cURL command, as documentations and browsers give it.
 */
final readonly class CurlCommand
{
    /** Options with a value that matter here: long name → ours. */
    private const VALUES = ['X' => 'method', 'request' => 'method', 'H' => 'header', 'header' => 'header', 'u' => 'user', 'user' => 'user', 'd' => 'data', 'data' => 'data', 'data-raw' => 'data', 'data-ascii' => 'data', 'data-binary' => 'data', 'json' => 'json', 'data-urlencode' => 'encoded', 'b' => 'cookie', 'cookie' => 'cookie', 'url' => 'url', 'oauth2-bearer' => 'bearer', 'F' => 'data', 'form' => 'data', 'A' => 'agent', 'user-agent' => 'agent', 'e' => 'ignored', 'referer' => 'ignored', 'o' => 'ignored', 'output' => 'ignored', 'm' => 'ignored', 'max-time' => 'ignored', 'connect-timeout' => 'ignored', 'x' => 'ignored', 'proxy' => 'ignored', 'cacert' => 'ignored', 'E' => 'ignored', 'cert' => 'ignored', 'key' => 'ignored', 'w' => 'ignored', 'write-out' => 'ignored', 'c' => 'ignored', 'cookie-jar' => 'ignored', 'retry' => 'ignored', 'resolve' => 'ignored', 'url-query' => 'query', 'max-redirs' => 'ignored', 'limit-rate' => 'ignored', 'D' => 'ignored', 'dump-header' => 'ignored'];

    /**
     * @param  list<array{string, string}>  $headers  name and value
     */
    private function __construct(
        public string $method,
        public string $url,
        public array $headers,
        /** Name and password with a colon between, or null. */
        #[\SensitiveParameter] public ?string $user,
        public string $body,
    ) {
    }

    public static function looksLikeOne(string $text): bool
    {
        return preg_match('/^\s*(?:\$\s+)?curl(?:\.exe)?\s/i', $text) === 1;
    }

    /**
     * @throws UnreadableCommand
     */
    public static function read(string $text): self
    {
        $words = ShellWords::of((string) preg_replace('/^\s*\$\s+/', '', $text));
        array_shift($words);
        $found = ['header' => [], 'data' => [], 'query' => []];
        $asQuery = false;
        for ($i = 0; $i < count($words); $i++) {
            [$name, $value] = self::option($words[$i]);
            if ($name === null) {
                $found['url'] ??= $words[$i];

                continue;
            }
            $asQuery = $asQuery || $name === 'G' || $name === 'get';
            $kind = self::VALUES[$name] ?? null;
            if ($name === 'I' || $name === 'head') {
                $found['method'] = 'HEAD';
            }
            if ($kind === null) {
                continue;
            }
            $value ??= $words[++$i] ?? throw UnreadableCommand::valueMissing(strlen($name) === 1 ? "-$name" : "--$name");
            match ($kind) {
                'header', 'data', 'query' => $found[$kind][] = $value,
                'json' => [$found['data'][] = $value, $found['header'][] = 'content-type: application/json'],
                'encoded' => $found['data'][] = self::encoded($value),
                'cookie' => $found['header'][] = "cookie: $value",
                'agent' => $found['header'][] = "user-agent: $value",
                'bearer' => $found['header'][] = "authorization: Bearer $value",
                default => $found[$kind] = $value,
            };
        }
        $url = $found['url'] ?? throw UnreadableCommand::withoutAddress();
        $url = preg_match('~^[a-z][a-z0-9+.-]*://~i', $url) === 1 ? $url : "https://$url";
        if (preg_match('~^https?://[^/?#\s]+~i', $url) !== 1) {
            throw UnreadableCommand::withAddress($url);
        }
        $query = [...$found['query'], ...($asQuery ? $found['data'] : [])];
        if ($query !== []) {
            $url .= (str_contains($url, '?') ? '&' : '?').implode('&', $query);
        }
        $body = $asQuery ? '' : implode('&', $found['data']);

        return new self(strtoupper($found['method'] ?? ($body === '' ? 'GET' : 'POST')), $url, self::headers($found['header']), $found['user'] ?? null, $body);
    }

    /**
     * @return array{string|null, string|null} name, and the value when it stands in the same word
     */
    private static function option(string $word): array
    {
        if (preg_match('/^--([a-z][a-z0-9-]*)(?:=(.*))?$/isD', $word, $part) === 1) {
            return [$part[1], $part[2] ?? null];
        }
        if (preg_match('/^-([A-Za-z])(.*)$/sD', $word, $part) !== 1) {
            return [null, null];
        }
        // -sSL is three switches; -XPOST is one with its value.
        if ($part[2] !== '' && ! isset(self::VALUES[$part[1]])) {
            return self::option('-'.$part[2]);
        }

        return [$part[1], $part[2] === '' ? null : $part[2]];
    }

    private static function encoded(string $value): string
    {
        [$name, $text] = explode('=', $value, 2) + [1 => null];

        return $text === null ? rawurlencode((string) $name) : ($name === '' ? '' : "$name=").rawurlencode($text);
    }

    /**
     * @param  list<string>  $lines
     * @return list<array{string, string}>
     */
    private static function headers(array $lines): array
    {
        $headers = [];
        foreach ($lines as $line) {
            if (preg_match('/^\s*([^:\s]+)\s*:\s*(.*?)\s*$/sD', $line, $part) === 1) {
                $headers[] = [$part[1], $part[2]];
            }
        }

        return $headers;
    }
}
