<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use DeepSpring\SourceFile\Fault;

/**
 * What the sheet of a source sends → the `source` of a source file.
 */
final readonly class SourceForm
{
    /**
     * @param  array<string, mixed>  $source  as the document has it
     */
    public function __construct(private array $source)
    {
    }

    /**
     * @param  array<string, mixed>  $form
     * @return array<string, mixed>
     */
    public function apply(array $form): array
    {
        $source = $this->source;
        $source['name'] = self::text($form, 'name') ?: $source['name'];
        $environments = [];
        foreach (is_array($form['bases'] ?? null) ? $form['bases'] : [] as $slug => $base) {
            $base = is_string($base) ? trim($base) : '';
            if ($base !== '') {
                $environments[(string) $slug] = ['base' => $base] + ($source['environments'][$slug] ?? []);
            }
        }
        $source['environments'] = $environments;
        $source['access'] = array_values(array_filter(array_map($this->scheme(...), array_filter(is_array($form['access'] ?? null) ? $form['access'] : [], is_array(...)))));
        $headers = [];
        foreach (is_array($form['headers'] ?? null) ? $form['headers'] : [] as $row) {
            if (is_array($row) && self::text($row, 'name') !== '') {
                $headers[self::text($row, 'name')] = self::text($row, 'value');
            }
        }
        $source['headers'] = $headers;
        foreach (['timeout' => 30, 'tries' => 5] as $name => $default) {
            $given = self::whole($form, $name);
            if ($given !== null && $given !== ($source['pace'][$name] ?? $default)) {
                $source['pace'][$name] = $given;
            }
        }

        return array_filter($source, static fn (mixed $value): bool => $value !== []);
    }

    /**
     * What a person most likely meant by an address that is none.
     */
    public static function repaired(string $base): ?string
    {
        $try = preg_replace('~[?#].*$~', '', trim($base)) ?? '';
        $try = preg_match('~^[a-z][a-z0-9+.-]*:/+~i', $try) === 1 ? preg_replace('~^[a-z][a-z0-9+.-]*:/+~i', preg_match('~^http:~i', $try) === 1 ? 'http://' : 'https://', $try) : (preg_match('~^(localhost|127\.|\[::1)~', $try) === 1 ? 'http://' : 'https://').ltrim($try, '/');
        $try = rtrim(preg_replace('~://[^/@]*@~', '://', (string) $try) ?? '', '/');

        return $try !== $base && preg_match('~^https?://[^/?#@\s]+(/[^?#\s]*)?$~', $try) === 1 ? $try : null;
    }

    /**
     * Faults of a document that belong to one field of a form.
     *
     * @param  list<Fault>  $faults
     * @return list<string>
     */
    public static function faultsAt(array $faults, string $prefix): array
    {
        return array_values(array_map(static fn (Fault $fault): string => $fault->message, array_filter($faults, static fn (Fault $fault): bool => str_starts_with($fault->path, $prefix))));
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array<string, mixed>|null
     */
    private function scheme(array $row): ?array
    {
        $secret = static fn (string $field, string $default): array => ['secret' => self::text($row, $field) ?: $default];

        return match (self::text($row, 'scheme')) {
            'basic' => ['scheme' => 'basic', 'username' => self::text($row, 'username') === '' ? ['secret' => 'username'] : self::text($row, 'username'), 'password' => $secret('password', 'password')],
            'bearer' => ['scheme' => 'bearer', 'token' => $secret('token', 'token')] + (self::text($row, 'prefix') === '' || self::text($row, 'prefix') === 'Bearer' ? [] : ['prefix' => self::text($row, 'prefix')]),
            'api-key' => ['scheme' => 'api-key', 'in' => self::text($row, 'in') ?: 'header', 'name' => self::text($row, 'name') ?: 'X-Api-Key', 'value' => $secret('value', 'key')] + (self::text($row, 'prefix') === '' ? [] : ['prefix' => self::text($row, 'prefix')]),
            default => null,
        };
    }

    /**
     * @param  array<array-key, mixed>  $form
     */
    private static function text(array $form, string $name): string
    {
        return is_string($form[$name] ?? null) ? trim($form[$name]) : '';
    }

    /**
     * @param  array<string, mixed>  $form
     */
    private static function whole(array $form, string $name): ?int
    {
        $value = self::text($form, $name);

        return preg_match('/^\d{1,6}$/D', $value) === 1 ? (int) $value : null;
    }
}
