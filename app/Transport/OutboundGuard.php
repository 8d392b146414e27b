<?php

declare(strict_types=1);

namespace App\Transport;

use App\Models\AllowedHost;
use DeepSpring\Outbound\AddressRules;
use DeepSpring\Outbound\HostLiteral;
use DeepSpring\Outbound\HostName;
use DeepSpring\Outbound\UnusableHost;
use GuzzleHttp\Promise\PromiseInterface;
use Psr\Http\Message\RequestInterface;
use Psr\Http\Message\UriInterface;

/**
 * Lets a request out only to an address that is open to everybody, or to a host and port that an
 * administrator allowed. The name is resolved here, once, and the connection is held to what was
 * looked at, so that a name cannot point elsewhere a moment later. Every redirect passes again.
 */
final class OutboundGuard
{
    /** Seconds for which an exception that was looked up counts. */
    private const ALLOWED = 1.0;

    /** @var array<string, float> host and port → until when it needs no look, in seconds of a clock that only goes on */
    private array $allowed = [];

    /**
     * @param  list<int>  $ports  that need no permission
     */
    public function __construct(private readonly Resolver $resolver, private readonly array $ports)
    {
    }

    public function middleware(): \Closure
    {
        return fn (callable $handler): \Closure => function (RequestInterface $request, array $options) use ($handler): PromiseInterface {
            $from = microtime(true);
            $request = self::plain($request);
            $addresses = $this->admit($request->getUri());
            if ($addresses !== null) {
                $uri = $request->getUri();
                $options['curl'][CURLOPT_RESOLVE] = [$uri->getHost().':'.self::port($uri).':'.implode(',', array_map(static fn (string $one): string => str_contains($one, ':') ? "[$one]" : $one, $addresses))];
            }
            $options['spring_trail']->milliseconds += 1000 * (microtime(true) - $from);

            return $handler($request, $options);
        };
    }

    /**
     * The same request to the same host, in the one spelling that curl is given too.
     *
     * @throws OutboundRefused
     */
    private static function plain(RequestInterface $request): RequestInterface
    {
        $uri = $request->getUri();
        try {
            $host = HostName::of($uri->getHost());
        } catch (UnusableHost $unusable) {
            throw OutboundRefused::because($unusable->getMessage());
        }

        return $host === $uri->getHost() ? $request : $request->withUri($uri->withHost($host));
    }

    /**
     * @return list<string>|null what the name stands for; null when the host is an address itself
     *
     * @throws OutboundRefused
     * @throws UnknownName
     */
    public function admit(UriInterface $uri): ?array
    {
        $host = $uri->getHost();
        $port = self::port($uri);
        if (! in_array($uri->getScheme(), ['http', 'https'], true) || $host === '') {
            throw OutboundRefused::because('Only http and https addresses can be reached.');
        }
        try {
            $host = HostName::of($host);
            $literal = HostLiteral::of($host);
        } catch (UnusableHost $unusable) {
            throw OutboundRefused::because($unusable->getMessage());
        }
        if ($literal !== null) {
            $this->refuse($host, $port, [$literal->address]);
            if (! $literal->usual) {
                throw OutboundRefused::because("$host is an unusual way to write {$literal->address}. Write it so.");
            }

            return null;
        }
        $addresses = $this->resolver->addresses($host);
        if ($addresses === []) {
            throw UnknownName::of($host);
        }
        $this->refuse($host, $port, $addresses);

        return $addresses;
    }

    /**
     * @param  list<string>  $addresses
     */
    private function refuse(string $host, int $port, array $addresses): void
    {
        foreach ($addresses as $address) {
            $kind = AddressRules::refusal($address);
            if ($kind !== null && ! $this->isAllowed($host, $port)) {
                throw OutboundRefused::because($address === $host ? "$host is $kind." : "$host leads to $address, which is $kind.");
            }
        }
        if (! in_array($port, $this->ports, true) && ! $this->isAllowed($host, $port)) {
            throw OutboundRefused::because("Port $port is not among those that need no permission (".implode(', ', $this->ports).').');
        }
    }

    /**
     * Whether an administrator made an exception. It is not looked up for every request of a reading: one that is
     * taken back holds for a second more.
     */
    private function isAllowed(string $host, int $port): bool
    {
        $now = hrtime(true) / 1e9;
        if (($this->allowed["$host:$port"] ?? 0.0) > $now) {
            return true;
        }
        unset($this->allowed["$host:$port"]);
        if (! AllowedHost::holds($host, $port)) {
            return false;
        }
        $this->allowed["$host:$port"] = $now + self::ALLOWED;

        return true;
    }

    public static function port(UriInterface $uri): int
    {
        return $uri->getPort() ?? ($uri->getScheme() === 'http' ? 80 : 443);
    }
}
