<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

/**
 * Tells what of a request is a secret, and takes it out.
 */
final class Secrecy
{
    private const TELLING = '/key|token|secret|auth|subscription|password|signature|credential/i';

    private const QUERY = '/^(?:api[-_]?key|apikey|key|token|access[-_]?token|auth|subscription-key|appid|app_id|sig|signature|password|client_secret)$/i';

    private const TOKEN = '/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D';

    /** Of the connection, which is set whenever a request is sent. */
    private const CONNECTION = ['host', 'content-length', 'connection', 'proxy-connection', 'accept-encoding', 'te', 'trailer', 'expect', 'transfer-encoding', 'keep-alive', 'upgrade'];

    /** Set by a browser for itself. Where somebody else set them they are kept. */
    private const BROWSER = ['user-agent', 'origin', 'referer', 'cache-control', 'pragma', 'accept-language', 'dnt', 'priority', 'upgrade-insecure-requests', 'if-none-match', 'if-modified-since'];

    /** Never taken for a secret by their value alone. */
    private const PLAIN = [...self::CONNECTION, ...self::BROWSER, 'content-type', 'content-encoding', 'idempotency-key', 'accept', 'traceparent', 'range'];

    /** @var list<array<string, mixed>> */
    public array $access = [];

    /** @var array<string, string> */
    public array $secrets = [];

    /** @var array<string, string> names of secrets by the place where they go */
    private array $names = [];

    /** @var array<string, int> sentences on what was left out → how often */
    public array $leftOut = [];

    /**
     * Takes the credentials of a request.
     *
     * @param  list<SeenRequest>  $all  the requests that it came with
     */
    public function take(SeenRequest $request, array $all): Left
    {
        $headers = [];
        $cookies = [];
        $parts = parse_url($request->url) ?: [];
        $user = $request->user ?? (isset($parts['user']) ? rawurldecode($parts['user']).':'.rawurldecode($parts['pass'] ?? '') : null);
        $isBrowser = $request->isFromBrowser();
        foreach ($request->headers as [$name, $value]) {
            $lower = strtolower($name);
            if (str_starts_with($lower, ':') || in_array($lower, self::CONNECTION, true)) {
                if ($lower === 'host' && $value !== substr((string) strrchr($request->origin(), '/'), 1)) {
                    $this->leave("The header Host: $value. The host is that of the address.");
                }

                continue;
            }
            // What no header can be was never sent.
            if (preg_match(self::TOKEN, $name) !== 1 || preg_match('/[\x00-\x08\x0a-\x1f\x7f]/', $value) === 1) {
                $this->leave('A header that cannot be sent: '.mb_strimwidth((string) preg_replace('/[\x00-\x1f\x7f]/', '?', $name), 0, 60, '…', 'UTF-8').'.');
            } elseif ($isBrowser && (in_array($lower, self::BROWSER, true) || str_starts_with($lower, 'sec-'))) {
                $this->leave('Headers that a browser sets for itself.');
            } elseif ($lower === 'authorization') {
                $user = $this->authorization($value) ?? $user;
            } elseif ($lower === 'cookie') {
                array_push($cookies, ...$this->cookies($value));
            } elseif ($this->looksSecret($lower, $value, $all)) {
                $this->add(['scheme' => 'api-key', 'in' => 'header', 'name' => $name, 'value' => ['secret' => $this->secret('key', $value, "header $name")]]);
            } else {
                $headers[$lower][] = $value;
            }
        }
        $headers = $this->besideSecrets($headers);
        if ($user !== null) {
            [$name, $password] = explode(':', $user, 2) + [1 => ''];
            $isPlaceholder = self::isPlaceholder($name);
            $this->add(['scheme' => 'basic', 'username' => $isPlaceholder ? ['secret' => 'username'] : $name, 'password' => ['secret' => $this->secret('password', $password, 'password')]], true);
        }
        $query = [];
        foreach ($request->query() as [$name, $value, $isBare]) {
            if (preg_match(self::QUERY, $name) === 1 && $value !== '') {
                $this->add(['scheme' => 'api-key', 'in' => 'query', 'name' => $name, 'value' => ['secret' => $this->secret('key', $value, "query $name")]]);
            } else {
                $query[] = [$name, $value, $isBare];
            }
        }

        return new Left($headers, $query, $cookies);
    }

    /**
     * A secret replaces what else stands under the name of its header.
     *
     * @param  array<string, list<string>>  $headers
     * @return array<string, list<string>>
     */
    private function besideSecrets(array $headers): array
    {
        foreach ($this->access as $one) {
            $lower = strtolower((string) ($one['name'] ?? ''));
            if (($one['in'] ?? '') === 'header' && isset($headers[$lower])) {
                $this->leave("Another value of the header {$one['name']}: what is sent under this name is a secret.");
                unset($headers[$lower]);
            }
        }

        return $headers;
    }

    /**
     * Written where a secret goes, for the reader to put in his own.
     */
    public static function isPlaceholder(string $value): bool
    {
        return preg_match('/^(?:<.*>|\{+.*\}+|\[.*\]|%\w+%|\$\w+|\$\{\w+\}|\$\(.*\)|your[_ -].*|my[_ -].*|.*_here|x{3,}|\*{3,}|\.{3,}|…|•+\S{0,4}|token|secret|api[_-]?key|password)$/iuD', trim($value)) === 1;
    }

    /**
     * @return string|null name and password of the scheme Basic, with a colon between
     */
    private function authorization(#[\SensitiveParameter] string $value): ?string
    {
        if (preg_match('/^Basic\s+(\S+)$/iD', $value, $part) === 1) {
            $user = base64_decode($part[1], true);
            if ($user !== false && str_contains($user, ':') && base64_encode($user) === $part[1]) {
                return $user;
            }
        }
        if (preg_match('/^([A-Za-z0-9_-]+) (\S.*)$/sD', $value, $part) === 1) {
            $this->add(['scheme' => 'bearer', 'token' => ['secret' => $this->secret('token', $part[2], 'bearer')]] + ($part[1] === 'Bearer' ? [] : ['prefix' => $part[1]]));
        } else {
            $this->add(['scheme' => 'api-key', 'in' => 'header', 'name' => 'Authorization', 'value' => ['secret' => $this->secret('key', $value, 'header authorization')]]);
        }

        return null;
    }

    /**
     * @return list<array{string, string}>
     */
    private function cookies(string $line): array
    {
        $kept = [];
        foreach (array_filter(array_map(trim(...), explode(';', $line)), static fn (string $pair): bool => $pair !== '') as $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => ''];
            if (preg_match(self::TOKEN, $name) !== 1) {
                $this->leave('A cookie without a name that can be sent.');
            } elseif (preg_match('/sess|sid$|auth|token|csrf|xsrf|jwt|login/i', $name) === 1 || self::isRandom($value)) {
                $this->add(['scheme' => 'api-key', 'in' => 'cookie', 'name' => $name, 'value' => ['secret' => $this->secret('session', $value, "cookie $name")]]);
            } else {
                $kept[] = [$name, $value];
            }
        }

        return $kept;
    }

    /**
     * By its name, by a value that stands under such a name as well, or by a value that nobody types.
     *
     * @param  list<SeenRequest>  $all
     */
    private function looksSecret(string $name, #[\SensitiveParameter] string $value, array $all): bool
    {
        if (preg_match(self::TELLING, $name) === 1 && $name !== 'idempotency-key') {
            return true;
        }
        foreach ($all as $request) {
            foreach ($request->headers as [$other, $its]) {
                if ($its === $value && preg_match(self::TELLING, $other) === 1 && strtolower($other) !== 'idempotency-key') {
                    return true;
                }
            }
        }

        return ! in_array($name, self::PLAIN, true) && ! str_starts_with($name, 'sec-') && self::isRandom($value);
    }

    private static function isRandom(string $value): bool
    {
        return preg_match('/^(?=.*\d)(?=.*[A-Za-z])[A-Za-z0-9._~+\/=-]{20,}$/D', $value) === 1 && ! str_contains($value, 'json');
    }

    /**
     * The name of a secret. One that is not known yet keeps its name for the place where it goes, so that
     * what is known of another never goes there.
     *
     * @param  string  $place  where it goes
     */
    private function secret(string $wish, #[\SensitiveParameter] string $value, string $place): string
    {
        $known = array_search($value, $this->secrets, true);
        if ($known !== false) {
            return (string) $known;
        }
        $place = strtolower($place);
        $isOpen = self::isPlaceholder($value) || $value === '';
        $name = $this->names[$place] ?? null;
        if ($name === null || ! $isOpen && isset($this->secrets[$name])) {
            $name = $wish;
            for ($number = 2; isset($this->secrets[$name]) || in_array($name, $this->names, true); $number++) {
                $name = "{$wish}_$number";
            }
        }
        $this->names[$place] ??= $name;
        if (! $isOpen) {
            $this->secrets[$name] = $value;
        }

        return $name;
    }

    /**
     * @param  array<string, mixed>  $entry
     */
    private function add(array $entry, bool $first = false): void
    {
        foreach ($this->access as $one) {
            if ($one === $entry) {
                return;
            }
            if (($one['scheme'] ?? '') === $entry['scheme'] && ($one['name'] ?? '') === ($entry['name'] ?? '') && ($one['in'] ?? '') === ($entry['in'] ?? '')) {
                $this->leave('Another value of '.(isset($entry['name']) ? $entry['name'] : 'what proves who asks').': a source has one in each environment, and the first was taken.');

                return;
            }
        }
        $first ? array_unshift($this->access, $entry) : $this->access[] = $entry;
    }

    private function leave(string $sentence): void
    {
        $this->leftOut[$sentence] = ($this->leftOut[$sentence] ?? 0) + 1;
    }
}
