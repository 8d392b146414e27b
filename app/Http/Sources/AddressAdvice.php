<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Models\AllowedHost;
use DeepSpring\Access\AddressFinding;
use DeepSpring\Access\BaseAddress;

/**
 * What is odd about a base address, except what an administrator allowed.
 */
final class AddressAdvice
{
    /**
     * @param  list<string>  $paths  of endpoints
     * @return list<AddressFinding>
     */
    public static function on(string $typed, array $paths = []): array
    {
        $parts = (array) parse_url(trim($typed));
        $allowed = AllowedHost::holds((string) ($parts['host'] ?? ''), (int) ($parts['port'] ?? (($parts['scheme'] ?? '') === 'http' ? 80 : 443)));

        return array_values(array_filter(BaseAddress::findings($typed, $paths), static fn (AddressFinding $finding): bool => ! ($allowed && in_array($finding->code, ['private', 'literal', 'localhost', 'short-name'], true))));
    }
}
