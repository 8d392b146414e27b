<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

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
 * @property string|null $request_body deflated
 * @property string|null $digest deflated: a large answer with its long arrays cut
 */
final class Exchange extends Model
{
    protected $guarded = [];

    /** @var array<string, string> */
    protected $casts = ['timing' => 'array'];

    protected $hidden = ['body', 'request_body', 'digest'];

    /**
     * The body as it came, or null when none was kept.
     */
    public function text(): ?string
    {
        if ($this->body === null) {
            return null;
        }
        $text = gzinflate($this->body);

        return $text === false ? null : $text;
    }

    /**
     * What the request carried.
     */
    public function carried(): string
    {
        return $this->request_body === null ? '' : (string) gzinflate($this->request_body);
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
