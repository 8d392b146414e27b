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

    /** Set by a browser or by curl, and none of the endpoint. */
    public const NOT_OURS = ['user-agent', 'host', 'content-length', 'connection', 'accept-encoding', 'origin', 'referer', 'cache-control', 'pragma', 'cookie', 'accept-language', 'te', 'dnt', 'priority', 'upgrade-insecure-requests', 'if-none-match', 'if-modified-since', 'expect', 'transfer-encoding', 'content-encoding', 'keep-alive'];

    /** @var list<array<string, mixed>> */
    public array $access = [];

    /** @var array<string, string> */
    public array $secrets = [];

    /**
     * Takes the credentials of a request.
     *
     * @param  list<SeenRequest>  $all  the requests that it came with
     * @return array{headers: array<string, string>, query: list<array{string, string}>, cookies: array<string, string>} what is left
     */
    public function take(SeenRequest $request, array $all): array
    {
        $headers = [];
        $cookies = [];
        $parts = parse_url($request->url) ?: [];
        $user = $request->user ?? (isset($parts['user']) ? rawurldecode($parts['user']).':'.rawurldecode($parts['pass'] ?? '') : null);
        foreach ($request->headers as [$name, $value]) {
            $lower = strtolower($name);
            // What no header can be was never sent.
            if (preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $name) !== 1 || preg_match('/[\x00-\x08\x0a-\x1f\x7f]/', $value) === 1) {
                continue;
            }
            if ($lower === 'authorization' && preg_match('/^Basic\s+(\S+)$/iD', $value, $part) === 1) {
                $user ??= (string) base64_decode($part[1], true);
            } elseif ($lower === 'authorization' && preg_match('/^(\S+)\s+(\S.*)$/sD', $value, $part) === 1) {
                $this->add(['scheme' => 'bearer', 'token' => ['secret' => $this->secret('token', $part[2])]] + (strcasecmp($part[1], 'bearer') === 0 || preg_match('/^[A-Za-z0-9_-]+$/D', $part[1]) !== 1 ? [] : ['prefix' => $part[1]]));
            } elseif ($lower === 'cookie') {
                $cookies = $this->cookies($value);
            } elseif ($lower === 'authorization' || $this->looksSecret($lower, $value, $all)) {
                $this->add(['scheme' => 'api-key', 'in' => 'header', 'name' => $name, 'value' => ['secret' => $this->secret('key', $value)]]);
            } elseif ($lower === 'user-agent' ? preg_match('~^(?:Mozilla|curl)/~', $value) !== 1 : ! in_array($lower, self::NOT_OURS, true) && ! str_starts_with($lower, 'sec-') && ! str_starts_with($lower, ':')) {
                $headers[$lower] = $value;
            }
        }
        if ($user !== null) {
            [$name, $password] = explode(':', $user, 2) + [1 => ''];
            $isPlaceholder = self::isPlaceholder($name);
            $this->add(['scheme' => 'basic', 'username' => $isPlaceholder ? ['secret' => 'username'] : $name, 'password' => ['secret' => $this->secret('password', $password)]], true);
        }
        $query = [];
        foreach ($request->query() as [$name, $value]) {
            if (preg_match(self::QUERY, $name) === 1 && $value !== '') {
                $this->add(['scheme' => 'api-key', 'in' => 'query', 'name' => $name, 'value' => ['secret' => $this->secret('key', $value)]]);
            } else {
                $query[] = [$name, $value];
            }
        }

        return ['headers' => $headers, 'query' => $query, 'cookies' => $cookies];
    }

    /**
     * Written where a secret goes, for the reader to put in his own.
     */
    public static function isPlaceholder(string $value): bool
    {
        return preg_match('/^(?:<.*>|\{+.*\}+|\[.*\]|%\w+%|\$\w+|\$\{\w+\}|\$\(.*\)|your[_ -].*|my[_ -].*|.*_here|x{3,}|\*{3,}|\.{3,}|…|•+\S{0,4}|token|secret|api[_-]?key|password)$/iuD', trim($value)) === 1;
    }

    /**
     * @return array<string, string>
     */
    private function cookies(string $line): array
    {
        $kept = [];
        foreach (array_filter(array_map(trim(...), explode(';', $line))) as $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => ''];
            if (preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $name) !== 1) {
                continue;
            }
            if (preg_match('/sess|sid$|auth|token|csrf|xsrf|jwt|login/i', $name) === 1 || self::isRandom($value)) {
                $this->add(['scheme' => 'api-key', 'in' => 'cookie', 'name' => $name, 'value' => ['secret' => $this->secret('session', $value)]]);
            } else {
                $kept[$name] = $value;
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

        return ! in_array($name, [...self::NOT_OURS, 'content-type', 'idempotency-key', 'accept', 'traceparent'], true) && ! str_starts_with($name, 'sec-') && self::isRandom($value);
    }

    private static function isRandom(string $value): bool
    {
        return preg_match('/^(?=.*\d)(?=.*[A-Za-z])[A-Za-z0-9._~+\/=-]{20,}$/D', $value) === 1 && ! str_contains($value, 'json');
    }

    private function secret(string $wish, #[\SensitiveParameter] string $value): string
    {
        $known = array_search($value, $this->secrets, true);
        if ($known !== false) {
            return (string) $known;
        }
        if (self::isPlaceholder($value) || $value === '') {
            return $wish;
        }
        $name = $wish;
        for ($number = 2; isset($this->secrets[$name]); $number++) {
            $name = "{$wish}_$number";
        }
        $this->secrets[$name] = $value;

        return $name;
    }

    /**
     * @param  array<string, mixed>  $entry
     */
    private function add(array $entry, bool $first = false): void
    {
        foreach ($this->access as $one) {
            $same = $one === $entry || ($one['scheme'] ?? '') === $entry['scheme'] && ($one['name'] ?? '') === ($entry['name'] ?? '') && ($one['in'] ?? '') === ($entry['in'] ?? '');
            if ($same) {
                return;
            }
        }
        $first ? array_unshift($this->access, $entry) : $this->access[] = $entry;
    }
}
