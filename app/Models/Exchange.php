<?php

declare(strict_types=1);

namespace App\Models;

/**
 * A request and its answer as evidence, without secrets.
 *
 * @property int $id
 * @property int|null $try_id
 * @property int|null $run_id
 * @property string $purpose request, token, or refused: sent once more with a new token
 * @property int $number counts from 1
 * @property string $request start line and header lines as sent
 * @property int|null $status
 * @property string $headers header lines as received
 * @property int $bytes of the body
 * @property int|null $records
 * @property array<string, mixed> $timing milliseconds, and what the connection was
 * @property string|null $error
 * @property string|null $body deflated
 * @property \Illuminate\Support\Carbon $created_at
 * @property string|null $request_body deflated
 * @property string|null $digest deflated: a large answer with its long arrays cut
 */
final class Exchange extends Record
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['timing' => 'array'];

    protected $hidden = ['body', 'request_body', 'digest'];

    /** All but the bodies, which can be large. */
    public const LIGHT = ['id', 'try_id', 'run_id', 'purpose', 'number', 'request', 'status', 'headers', 'bytes', 'records', 'timing', 'error', 'created_at', 'updated_at'];

    /**
     * The body as it came, or null when none was kept.
     */
    public function text(): ?string
    {
        return $this->inflated('body');
    }

    /**
     * What the request carried.
     */
    public function carried(): string
    {
        return $this->inflated('request_body') ?? '';
    }

    /**
     * A large answer with its long arrays cut; null for one that is not large.
     */
    public function digested(): ?string
    {
        return $this->inflated('digest');
    }

    private function inflated(string $column): ?string
    {
        $value = array_key_exists($column, $this->attributes) ? $this->attributes[$column] : self::query()->whereKey($this->id)->value($column);
        $text = is_string($value) ? gzinflate($value) : false;

        return $text === false ? null : $text;
    }

    /**
     * Header lines of the request or the answer, in their order.
     *
     * @return list<array{string, string}>
     */
    public static function lines(string $head): array
    {
        preg_match_all('/^([^\s:]+):[ \t]*(.*?)\s*$/m', $head, $found, PREG_SET_ORDER);

        return array_map(static fn (array $line): array => [$line[1], $line[2]], $found);
    }

    public function header(string $name): ?string
    {
        return preg_match('/^'.preg_quote($name, '/').':[ \t]*(.*)$/mi', $this->headers, $found) === 1 ? trim($found[1]) : null;
    }
}
