<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\ImportNotice;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriResolver;

/**
 * `servers`, or host, base path and schemes of Swagger 2.0 → base addresses.
 */
final class Servers
{
    /** @var list<ImportNotice> */
    public array $mends = [];

    /**
     * @param  array<array-key, mixed>  $document
     * @return list<string> the likeliest first
     */
    public function of(array $document, ?string $fetchedFrom): array
    {
        $bases = $this->bases($document, $fetchedFrom);
        if ($bases === []) {
            $this->mends[] = ImportNotice::mended('servers', $fetchedFrom === null ? 'The file names no server; give the base address.' : 'The file names no usable server; the address it was fetched from is taken.');
            $bases = $fetchedFrom === null ? [] : [$this->origin($fetchedFrom)];
        }

        return $bases;
    }

    /**
     * The address of one operation, where it or its path has servers of its own (OpenAPI 3 §4.8.9, §4.8.10).
     *
     * @param  array<array-key, mixed>  $operation
     * @param  array<array-key, mixed>  $item  of the path
     * @param  list<string>  $bases  of the document
     */
    public function own(array $operation, array $item, array $bases, ?string $fetchedFrom, string $place): ?string
    {
        foreach ([[$operation, $place], [$item, (string) preg_replace('/\.\w+$/D', '', $place)]] as [$node, $at]) {
            if (is_array($node['servers'] ?? null) && $node['servers'] !== []) {
                $own = $this->bases(['servers' => $node['servers']], $fetchedFrom, "$at.");

                // Of several that are the same in all but the one that was taken, there is nothing to keep.
                return array_intersect($own, $bases) === [] ? $own[0] ?? null : (in_array($bases[0] ?? '', $own, true) ? null : $own[0]);
            }
        }

        return null;
    }

    /**
     * @param  array<array-key, mixed>  $document
     * @return list<string>
     */
    private function bases(array $document, ?string $fetchedFrom, string $at = ''): array
    {
        $bases = [];
        foreach ($this->urls($document, $fetchedFrom, $at) as $place => $url) {
            if (preg_match('~^https?://~i', $url) !== 1) {
                if ($fetchedFrom === null) {
                    $this->mends[] = ImportNotice::leftOut((string) $place, "The server \"$url\" is relative to where the file stands, which is not known for a paste. Give the address.");

                    continue;
                }
                $url = $this->resolved($fetchedFrom, $url);
            }
            $base = rtrim((string) preg_replace('/[?#].*$/s', '', $url), '/');
            if (preg_match('~^https?://[^/?#@\s{}]+(/[^?#\s{}]*)?$~', $base) !== 1) {
                $this->mends[] = ImportNotice::leftOut((string) $place, "The server \"$url\" is no address.");
            } elseif ($this->isLocal($base) && ($fetchedFrom === null || ! $this->isLocal($fetchedFrom) || parse_url($fetchedFrom, PHP_URL_PORT) !== parse_url($base, PHP_URL_PORT))) {
                $bases[] = $this->instead((string) $place, $base, $fetchedFrom);
            } else {
                $bases[] = $base;
            }
        }

        return array_values(array_unique(array_filter($bases)));
    }

    /**
     * @param  array<array-key, mixed>  $document
     * @return array<string, string> by place
     */
    private function urls(array $document, ?string $fetchedFrom, string $at): array
    {
        if (isset($document['swagger'])) {
            $host = is_string($document['host'] ?? null) && trim($document['host']) !== '' ? trim($document['host']) : null;
            $path = is_string($document['basePath'] ?? null) ? '/'.ltrim($document['basePath'], '/') : '';
            $schemes = array_values(array_intersect(['https', 'http'], array_filter((array) ($document['schemes'] ?? []), is_string(...))));
            $scheme = $schemes[0] ?? ($fetchedFrom === null ? 'https' : (string) parse_url($fetchedFrom, PHP_URL_SCHEME));
            if ($host !== null && preg_match('~^(https?)://(.+)$~i', $host, $part) === 1) {
                $this->mends[] = ImportNotice::mended('host', 'The host has a scheme in front; it belongs to schemes.');
                [, $scheme, $host] = $part;
            }

            return $host === null ? ($fetchedFrom === null && $path === '' ? [] : ['basePath' => $path === '' ? '/' : $path]) : ['host' => "$scheme://".rtrim($host, '/').$path];
        }
        $urls = [];
        foreach (is_array($document['servers'] ?? null) ? $document['servers'] : [] as $number => $server) {
            $url = is_array($server) && is_string($server['url'] ?? null) ? trim($server['url']) : '';
            if ($url === '') {
                $this->mends[] = ImportNotice::leftOut("{$at}servers[$number]", 'A server without an address.');

                continue;
            }
            $variables = is_array($server['variables'] ?? null) ? $server['variables'] : [];
            $urls["{$at}servers[$number].url"] = (string) preg_replace_callback('/\{([^{}]+)\}/', function (array $part) use ($variables, $number, $at): string {
                $variable = $variables[$part[1]] ?? [];
                $value = is_array($variable) ? $variable['default'] ?? ((array) ($variable['enum'] ?? []))[0] ?? null : null;
                if (! is_scalar($value)) {
                    $this->mends[] = ImportNotice::mended("{$at}servers[$number].variables.{$part[1]}", 'The variable has no value; its name stands in its place.');

                    return $part[1];
                }

                return (string) $value;
            }, $url);
        }

        return $urls;
    }

    /**
     * A relative address, against where the file came from; as it is, when it is none.
     */
    private function resolved(string $from, string $url): string
    {
        if (preg_match('~^[A-Za-z0-9+.-]+:~', $url) === 1) {
            return $url;
        }
        try {
            return (string) UriResolver::resolve(new Uri($from), new Uri($url));
        } catch (\InvalidArgumentException) {
            return $url;
        }
    }

    private function instead(string $place, string $base, ?string $fetchedFrom): string
    {
        if ($fetchedFrom === null) {
            $this->mends[] = ImportNotice::mended($place, "The file says $base, which is the machine of whoever wrote it. Give the address of the service.");

            return $base;
        }
        $instead = $this->origin($fetchedFrom).(string) parse_url($base, PHP_URL_PATH);
        $this->mends[] = ImportNotice::mended($place, "The file says $base, which is the machine of whoever wrote it; $instead, where it was fetched from, is taken.");

        return $instead;
    }

    private function isLocal(string $address): bool
    {
        return preg_match('~^https?://(?:localhost|127\.\d+\.\d+\.\d+|0\.0\.0\.0|\[::1\]|host\.docker\.internal)(?=[:/]|$)~i', $address) === 1;
    }

    private function origin(string $address): string
    {
        return (string) preg_replace('~^(https?://[^/?#]+).*$~is', '$1', $address);
    }
}
