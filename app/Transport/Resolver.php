<?php

declare(strict_types=1);

namespace App\Transport;

/**
 * Names → addresses, as the system does it: the hosts file, then DNS.
 */
class Resolver
{
    /**
     * @return list<string> IPv4 and IPv6 addresses; none when the name is not known
     */
    public function addresses(string $name): array
    {
        $addresses = [];
        foreach (@socket_addrinfo_lookup($name, null, ['ai_socktype' => SOCK_STREAM]) ?: [] as $entry) {
            $of = socket_addrinfo_explain($entry)['ai_addr'] ?? [];
            $addresses[] = (string) ($of['sin_addr'] ?? $of['sin6_addr'] ?? '');
        }

        return array_values(array_unique(array_filter($addresses)));
    }
}
