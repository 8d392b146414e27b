<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Slugs;

/**
 * `securitySchemes` of every type → access. Values are secrets that nobody knows yet.
 */
final class Security
{
    /** Ways that are offered to be chosen from, at most. */
    private const OFFERED = 12;

    /** @var list<ImportNotice> */
    public array $mends = [];

    /** @var array<string, list<array<string, mixed>>> ways that the document offers instead of each other, the one that is taken first; by the names of their schemes */
    public array $alternatives = [];

    /**
     * @param  array<string, array<array-key, mixed>>  $schemes  by name
     * @param  list<mixed>  $requirements  of the document and of all operations
     * @param  string|null  $base  that relative addresses are relative to
     * @return list<array<string, mixed>>
     */
    public function access(array $schemes, array $requirements, ?string $base): array
    {
        [$wanted, $others] = self::asked($requirements);
        if ($wanted === [] && count($schemes) === 1) {
            $wanted[(string) array_key_first($schemes)] = [];
            $this->mends[] = ImportNotice::mended('security', 'No operation says which access it needs; the only scheme that is described was taken.');
        }
        $access = [];
        $proof = null;
        $taken = [];
        foreach ($wanted as $name => $scopes) {
            if (! isset($schemes[$name])) {
                $this->mends[] = ImportNotice::leftOut("security.$name", 'This scheme is asked for, and described nowhere.');

                continue;
            }
            $entries = $this->entry((string) $name, $schemes[$name], array_values($scopes), $base);
            // One header holds one of them.
            if ($proof !== null && array_filter($entries, self::writesAuthorization(...)) !== []) {
                $others[(string) $name] = true;

                continue;
            }
            $proof ??= array_filter($entries, self::writesAuthorization(...)) === [] ? null : (string) $name;
            $taken[(string) $name] = true;
            array_push($access, ...$entries);
        }
        foreach (array_diff_key($others, $taken) as $name => $isOther) {
            if (isset($schemes[$name])) {
                $this->mends[] = ImportNotice::note("security.$name", 'It is another way to authenticate, and was not taken'.($proof === null ? '' : ", since \"$proof\" was").'. If that is what you have, choose it before you add.');
            }
        }

        $this->alternatives = $this->alternatives($schemes, $requirements, $base, array_map(strval(...), array_keys($taken)), $access);

        return $access;
    }

    /**
     * Of each requirement the first alternative that asks for something; an empty one means that nothing is
     * needed.
     *
     * @param  list<mixed>  $requirements
     * @return array{array<string, array<array-key, string>>, array<string, true>} scopes by the names of the schemes, and the names of the others
     */
    private static function asked(array $requirements): array
    {
        $wanted = [];
        $others = [];
        foreach ($requirements as $alternatives) {
            $isChosen = false;
            foreach (is_array($alternatives) ? $alternatives : [] as $alternative) {
                foreach (is_array($alternative) ? $alternative : [] as $name => $scopes) {
                    if ($isChosen) {
                        $others[(string) $name] = true;
                    } else {
                        $wanted[(string) $name] = array_unique([...($wanted[(string) $name] ?? []), ...array_filter((array) $scopes, is_string(...))]);
                    }
                }
                $isChosen = $isChosen || is_array($alternative) && $alternative !== [];
            }
        }

        return [$wanted, $others];
    }

    /**
     * @param  array<string, array<array-key, mixed>>  $schemes
     * @param  list<mixed>  $requirements
     * @param  list<string>  $taken  names of the schemes that are taken
     * @param  list<array<string, mixed>>  $access  as it is taken
     * @return array<string, list<array<string, mixed>>> none where there is nothing to choose
     */
    private function alternatives(array $schemes, array $requirements, ?string $base, array $taken, array $access): array
    {
        $found = $taken === [] ? [] : [implode(' + ', $taken) => $access];
        foreach ($requirements as $alternatives) {
            foreach (is_array($alternatives) ? $alternatives : [] as $alternative) {
                $names = array_map(strval(...), array_keys(is_array($alternative) ? $alternative : []));
                if ($names === [] || array_diff($names, array_map(strval(...), array_keys($schemes))) !== [] || count($found) >= self::OFFERED) {
                    continue;
                }
                // What is to be said of a scheme was said when it was read, or is when it is taken.
                $apart = new self;
                $entries = array_map(static fn (string $name): array => $apart->entry($name, $schemes[$name], array_values(array_filter((array) $alternative[$name], is_string(...))), $base), $names);
                $found[implode(' + ', $names)] ??= array_merge(...$entries);
            }
        }

        return count($found) < 2 ? [] : $found;
    }

    /**
     * @param  array<string, mixed>  $entry  of a source file
     */
    private static function writesAuthorization(array $entry): bool
    {
        return in_array($entry['scheme'], ['basic', 'bearer'], true) || str_starts_with($entry['scheme'], 'oauth2-') || $entry['scheme'] === 'api-key' && ($entry['in'] ?? '') === 'header' && strcasecmp($entry['name'], 'authorization') === 0;
    }

    /**
     * @param  array<array-key, mixed>  $scheme
     * @param  list<string>  $scopes
     * @return list<array<string, mixed>>
     */
    private function entry(string $name, array $scheme, array $scopes, ?string $base): array
    {
        $secret = substr(str_replace('-', '_', Slugs::clean($name)), 0, 60);
        $type = is_string($scheme['type'] ?? null) ? $scheme['type'] : '';
        $kind = is_string($scheme['scheme'] ?? null) ? strtolower($scheme['scheme']) : '';

        return match (true) {
            $type === 'apiKey' && is_string($scheme['name'] ?? null) && preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $scheme['name']) === 1 => [['scheme' => 'api-key', 'in' => in_array($scheme['in'] ?? '', ['query', 'cookie'], true) ? $scheme['in'] : 'header', 'name' => $scheme['name'], 'value' => ['secret' => $secret]]],
            $type === 'basic', $type === 'http' && $kind === 'basic' => [['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']]],
            $type === 'http' && $kind === 'bearer' => [['scheme' => 'bearer', 'token' => ['secret' => $secret]]],
            $type === 'oauth2' => $this->oauth($name, $scheme, $scopes, $base),
            $type === 'mutualTLS' => [['scheme' => 'client-certificate', 'certificate' => ['secret' => 'certificate'], 'key' => ['secret' => 'certificate_key']]],
            $type === 'openIdConnect' => $this->asBearer($name, $secret, 'It signs people in by OpenID Connect ('.(is_string($scheme['openIdConnectUrl'] ?? null) ? $scheme['openIdConnectUrl'] : 'no address given').'). Add the consent under Access with that issuer; until then a bearer token is sent.'),
            default => $this->asBearer($name, $secret, "A scheme of the type \"$type".($kind === '' ? '' : " $kind").'" cannot be described here; a bearer token stands in its place.'),
        };
    }

    /**
     * @param  array<array-key, mixed>  $scheme
     * @param  list<string>  $scopes
     * @return list<array<string, mixed>>
     */
    private function oauth(string $name, array $scheme, array $scopes, ?string $base): array
    {
        $flows = is_array($scheme['flows'] ?? null) ? $scheme['flows'] : [['application' => 'clientCredentials', 'accessCode' => 'authorizationCode'][is_string($scheme['flow'] ?? null) ? $scheme['flow'] : ''] ?? (is_string($scheme['flow'] ?? null) ? $scheme['flow'] : '') => $scheme];
        $flow = $flows['clientCredentials'] ?? null;
        if (is_array($flow) && ($url = $this->address($flow['tokenUrl'] ?? null, $base)) !== null) {
            return [['scheme' => 'oauth2-client-credentials', 'token_url' => $url, 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret']] + $this->scope($scopes, $flow)];
        }
        $flow = $flows['authorizationCode'] ?? null;
        if (is_array($flow) && ($url = $this->address($flow['tokenUrl'] ?? null, $base)) !== null && ($authorize = $this->address($flow['authorizationUrl'] ?? null, $base)) !== null) {
            return [['scheme' => 'oauth2-authorization-code', 'authorize_url' => $authorize, 'token_url' => $url, 'client_id' => ['secret' => 'client_id'], 'client_secret' => ['secret' => 'client_secret']] + $this->scope($scopes, $flow) + ['pkce' => true, 'shared' => true]];
        }

        return $this->asBearer($name, 'token', 'Of the flows of this scheme ('.implode(', ', array_map(strval(...), array_keys($flows))).') none can be used by a server with the addresses that are given; a bearer token stands in its place.');
    }

    /**
     * @param  list<string>  $scopes
     * @param  array<array-key, mixed>  $flow
     * @return array{scope?: string}
     */
    private function scope(array $scopes, array $flow): array
    {
        $known = array_map(strval(...), array_keys(is_array($flow['scopes'] ?? null) ? $flow['scopes'] : []));
        $scopes = $known === [] ? $scopes : array_values(array_intersect($scopes, $known));

        return $scopes === [] ? [] : ['scope' => implode(' ', $scopes)];
    }

    private function address(mixed $address, ?string $base): ?string
    {
        if (! is_string($address) || trim($address) === '') {
            return null;
        }
        $address = trim($address);
        if ($base !== null && preg_match('~^https?://~i', $address) !== 1) {
            try {
                $address = preg_match('~^[A-Za-z0-9+.-]+:~', $address) === 1 ? $address : (string) \GuzzleHttp\Psr7\UriResolver::resolve(new \GuzzleHttp\Psr7\Uri($base), new \GuzzleHttp\Psr7\Uri($address));
            } catch (\InvalidArgumentException) {
                return null;
            }
        }

        return preg_match('~^https?://[^/?#@\s]+(/[^#\s]*)?$~', $address) === 1 ? $address : null;
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function asBearer(string $name, string $secret, string $why): array
    {
        $this->mends[] = ImportNotice::mended("securitySchemes.$name", $why);

        return [['scheme' => 'bearer', 'token' => ['secret' => $secret]]];
    }
}
