<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * A cURL command → the beginning of a source: base address, access, headers, one endpoint, and the
 * secrets that stood in the command, apart.
 */
final readonly class FromCurl
{
    private const NOT_OURS = ['user-agent', 'host', 'content-length', 'connection', 'accept-encoding', 'origin', 'referer', 'cache-control', 'pragma', 'cookie', 'content-type', 'accept-language', 'te', 'dnt', 'priority', 'upgrade-insecure-requests'];

    /**
     * @param  list<array<string, mixed>>  $access
     * @param  array<string, string>  $headers
     * @param  array<string, mixed>|null  $endpoint  of a source file; null when the command writes
     * @param  array<string, string>  $secrets
     */
    private function __construct(public string $base, public array $access, public array $headers, public ?array $endpoint, #[\SensitiveParameter] public array $secrets)
    {
    }

    public static function of(CurlCommand $command): self
    {
        $parts = (array) parse_url($command->url);
        $origin = strtolower((string) ($parts['scheme'] ?? 'https')).'://'.($parts['host'] ?? '').(isset($parts['port']) ? ":{$parts['port']}" : '');
        [$prefix, $path] = self::split((string) ($parts['path'] ?? ''));
        [$access, $headers, $secrets] = self::access($command, isset($parts['user']) ? rawurldecode((string) $parts['user']).':'.rawurldecode((string) ($parts['pass'] ?? '')) : null);
        $inputs = [];
        foreach (array_filter(explode('&', (string) ($parts['query'] ?? ''))) as $pair) {
            [$name, $value] = array_map(urldecode(...), explode('=', $pair, 2) + [1 => '']);
            if (preg_match('/^(?:api[-_]?key|apikey|key|token|access[-_]?token|auth|subscription-key|appid|sig)$/i', $name) === 1 && $value !== '') {
                $access[] = ['scheme' => 'api-key', 'in' => 'query', 'name' => $name, 'value' => ['secret' => 'key']];
                $secrets['key'] = $value;
            } elseif ($name !== '' && ! in_array($name, array_column($inputs, 'name'), true)) {
                $inputs[] = ['name' => $name, 'in' => 'query'] + ($value === '' ? [] : ['try' => $value]);
            }
        }
        $endpoint = null;
        if ($command->method === 'GET' && $path !== '') {
            $word = trim((string) preg_replace('/[^a-z0-9]+/', '-', strtolower((string) preg_replace('~/\d+(?=/|$)~', '', $path))), '-') ?: 'endpoint';
            $endpoint = ['slug' => substr($word, 0, 60), 'name' => ucfirst(str_replace('-', ' ', $word)), 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => strtr($path, ['{' => '%7B', '}' => '%7D'])] + ($inputs === [] ? [] : ['inputs' => $inputs])];
        }

        return new self($origin.$prefix, $access, $headers, $endpoint, $secrets);
    }

    /**
     * The path up to its version belongs to the base address, or nothing of it.
     *
     * @return array{string, string}
     */
    private static function split(string $path): array
    {
        if (preg_match('~^(.*?/(?:v\d+(?:\.\d+)*|api|rest))(/(?!v\d).*)?$~i', $path, $part) === 1) {
            return [$part[1], rtrim($part[2] ?? '', '/')];
        }

        return ['', rtrim($path, '/')];
    }

    /**
     * By its name, by a value that stands under such a name as well, or by a value that nobody
     * types: long, of letters and digits, without a space.
     */
    private static function looksSecret(string $name, #[\SensitiveParameter] string $value, CurlCommand $command): bool
    {
        $telling = '/key|token|secret|auth|subscription|password|signature/i';
        if (preg_match($telling, $name) === 1) {
            return true;
        }
        foreach ($command->headers as [$other, $its]) {
            if ($its === $value && preg_match($telling, $other) === 1) {
                return true;
            }
        }

        return ! in_array($name, self::NOT_OURS, true) && preg_match('/^(?=.*\d)(?=.*[A-Za-z])[A-Za-z0-9._~+\/=-]{20,}$/D', $value) === 1 && ! str_contains($value, 'json');
    }

    /**
     * @return array{list<array<string, mixed>>, array<string, string>, array<string, string>}
     */
    private static function access(CurlCommand $command, #[\SensitiveParameter] ?string $inAddress): array
    {
        $access = [];
        $headers = [];
        $secrets = [];
        $user = $command->user ?? $inAddress;
        foreach ($command->headers as [$name, $value]) {
            $lower = strtolower($name);
            if ($lower === 'authorization' && preg_match('/^Basic\s+(\S+)$/iD', $value, $part) === 1) {
                $user ??= (string) base64_decode($part[1], true);
            } elseif ($lower === 'authorization' && preg_match('/^(\S+)\s+(\S.*)$/sD', $value, $part) === 1) {
                $access[] = ['scheme' => 'bearer', 'token' => ['secret' => 'token']] + (strcasecmp($part[1], 'bearer') === 0 || preg_match('/^[A-Za-z0-9_-]+$/D', $part[1]) !== 1 ? [] : ['prefix' => $part[1]]);
                $secrets['token'] = $part[2];
            } elseif ($lower === 'authorization' || self::looksSecret($lower, $value, $command)) {
                $known = array_search($value, $secrets, true);
                $secret = $known !== false ? (string) $known : (isset($secrets['key']) ? 'key_'.(count($secrets) + 1) : 'key');
                $access[] = ['scheme' => 'api-key', 'in' => 'header', 'name' => $name, 'value' => ['secret' => $secret]];
                $secrets[$secret] = $value;
            } elseif (! in_array($lower, self::NOT_OURS, true) && ! str_starts_with($lower, 'sec-')) {
                $headers[$lower] = $value;
            }
        }
        if ($user !== null) {
            [$name, $password] = explode(':', $user, 2) + [1 => ''];
            array_unshift($access, ['scheme' => 'basic', 'username' => $name, 'password' => ['secret' => 'password']]);
            $secrets['password'] = $password;
        }

        return [$access, $headers, array_filter($secrets, static fn (string $one): bool => $one !== '' && preg_match('/^(?:<.*>|\{.*\}|\$\w+|\$\{\w+\}|YOUR[_ -].*|x{3,})$/iD', $one) !== 1)];
    }
}
