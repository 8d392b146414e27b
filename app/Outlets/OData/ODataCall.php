<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Principal;
use DeepSpring\OData\ODataVersion;
use Illuminate\Support\Carbon;

/**
 * One request for a service of feeds, by itself or from a batch.
 */
final readonly class ODataCall
{
    /**
     * @param  string  $root  address of the service, without a slash behind it
     * @param  int  $version  of the feeds
     * @param  string  $path  below the root, decoded; empty for the service itself
     * @param  array<string, mixed>  $query
     * @param  (\Closure(string, Carbon|null): bool)|null  $isUnchanged  whether the reader has the answer of a mark and a moment already
     */
    public function __construct(public Principal $reader, public string $root, public int $version, public ODataVersion $protocol, public string $path, public array $query, public string $accept, public string $prefer, private ?\Closure $isUnchanged = null)
    {
    }

    /**
     * Whether whole numbers of 64 bits and decimals are wanted as texts (OData JSON 4.01 §3.2).
     */
    public function wantsTexts(): bool
    {
        return preg_match('/\bIEEE754Compatible\s*=\s*true\b/i', "$this->accept {$this->format()}") === 1;
    }

    public function hasAnswer(?string $mark, ?Carbon $since): bool
    {
        return $mark !== null && $this->isUnchanged !== null && ($this->isUnchanged)($mark, $since);
    }

    /**
     * What is said in the address of the form of the answer; empty where nothing is.
     */
    public function format(): string
    {
        $format = $this->query['$format'] ?? $this->query['format'] ?? '';

        return is_string($format) ? $format : '';
    }

    /**
     * Rows of a page that the reader wishes (OData 4.01 protocol §8.2.8.7); null where nothing is said.
     */
    public function pageSize(): ?int
    {
        return preg_match('/\b(?:odata\.)?maxpagesize\s*=\s*"?(\d{1,9})/i', $this->prefer, $found) === 1 && (int) $found[1] > 0 ? (int) $found[1] : null;
    }
}
