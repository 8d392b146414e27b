<?php

declare(strict_types=1);

namespace App\Models;

/**
 * By what a service knows that nothing has changed since the last run (RFC 9110 §8.8).
 *
 * @property int $endpoint_id
 * @property int $environment_id
 * @property string $fingerprint of the settings and inputs that the answer belongs to
 * @property string|null $etag
 * @property string|null $last_modified
 * @property int $pages of that run
 * @property \Illuminate\Support\Carbon $created_at
 */
final class Validator extends Record
{
    protected $guarded = [];

    /**
     * Headers of a conditional request (RFC 9110 §13.1).
     *
     * @return array<string, string>
     */
    public function headers(): array
    {
        return array_filter(['if-none-match' => (string) $this->etag, 'if-modified-since' => $this->etag === null ? (string) $this->last_modified : '']);
    }
}
