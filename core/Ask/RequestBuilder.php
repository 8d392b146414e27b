<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

use DeepSpring\Access\Cookies;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\Origin;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\Secrets;
use DeepSpring\Ask\Body\Encoded;
use DeepSpring\Ask\Body\JsonBody;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;
use Psr\Http\Message\RequestInterface;

/**
 * Endpoint + inputs + access → the request. Paths are filled as RFC 6570 level 1; everything is
 * percent-encoded as RFC 3986 §2 says, so that only unreserved characters stay as they are.
 */
final readonly class RequestBuilder
{
    /**
     * @param  array<string, string>  $headers  those of the source, sent with every request
     * @param  array<string, string>  $query  likewise
     * @param  list<Scheme>  $access
     * @param  string  $environment  in which endpoints may have addresses of their own
     */
    public function __construct(private string $base, private array $headers, private array $query, private array $access, private string $environment = '')
    {
    }

    /**
     * The address that an endpoint goes on from.
     */
    public function base(AskDefinition $ask): string
    {
        return $ask->bases[$this->environment] ?? $this->base;
    }

    /**
     * The origin of an endpoint that is another than that of its source; null when it is at home.
     */
    public function elsewhere(AskDefinition $ask): ?string
    {
        $origin = Origin::of($this->base($ask));

        return $origin === Origin::of($this->base) ? null : $origin;
    }

    /**
     * @param  array<string, list<string>>  $given  values by input name
     *
     * @throws InvalidInput
     * @throws MissingSecret
     */
    public function build(AskDefinition $ask, array $given, Secrets $secrets, PageRequest $page = new PageRequest): RequestInterface
    {
        $values = InputValues::of($ask, $given + ($page->records[0] ?? []));
        $base = $this->base($ask);
        // To another server goes what the endpoint itself says, and no more unless the source file says so.
        $isOurs = $ask->sendsAccess || $this->elsewhere($ask) === null;
        $path = [];
        $cookies = [];
        $query = $isOurs ? $this->query : [];
        $pairs = array_map(static fn (string|int $name, string $value): array => [(string) $name, [$value], ListStyle::Comma, false], array_keys($query), $query);
        $everywhere = array_change_key_case($this->headers);
        $headers = $page->headers + array_change_key_case($ask->headers) + ($isOurs ? $everywhere : array_intersect_key($everywhere, ['accept' => 1]));
        foreach ($ask->inputs as $input) {
            if ($input->in === Place::Path) {
                $path['{'.$input->name.'}'] = ($input->many ?? ListStyle::Comma)->path($input->written($values->all($input->name)), $input->with);
            } elseif ($values->isGiven($input->name)) {
                $name = $input->wireName();
                match ($input->in) {
                    Place::Query => $pairs[] = [$name, $input->written($values->all($input->name)), $input->many ?? ListStyle::Comma, $input->isBare],
                    Place::Header => $headers[strtolower($name)] = $page->headers[strtolower($name)] ?? ($input->many === ListStyle::Repeat ? $values->all($input->name) : $values->text($input->name)),
                    Place::Cookie => array_push($cookies, ...array_map(static fn (string $value): array => [$name, $value], $input->many === ListStyle::Repeat ? $values->all($input->name) : [$values->text($input->name)])),
                    Place::Body => null,
                };
            }
        }
        if ($page->path !== null) {
            // Another address has nothing of this one but what the source sends everywhere.
            $pairs = array_slice($pairs, 0, count($query));
        }
        $uri = $page->uri ?? rtrim($base, '/').$this->path($page->path ?? strtr($ask->path, $path)).$this->queryString($pairs, $page->query);
        $method = $page->method ?? $ask->method;
        $body = $this->body($ask, $page, $values, $given);
        if ($body !== null) {
            $headers += ['content-type' => $body->contentType];
            $headers['content-length'] = (string) strlen($body->bytes);
        } elseif (in_array($method, ['POST', 'PUT', 'PATCH', 'MERGE'], true)) {
            $headers['content-length'] = '0';
        }
        if (Origin::of($uri) !== Origin::of($base)) {
            // A page that stands elsewhere is asked for as anybody would: what proves who asks stays at home.
            return new Request($method, new Uri($uri), array_intersect_key($headers, ['accept' => 1]));
        }
        $request = Cookies::add(new Request($method, new Uri($uri), $headers, $body?->bytes), $cookies);
        foreach ($isOurs ? $this->access : [] as $scheme) {
            $request = $scheme->apply($request, $secrets);
        }

        return $request;
    }

    /**
     * @param  array<string, list<string>>  $given
     */
    private function body(AskDefinition $ask, PageRequest $page, InputValues $values, array $given): ?Encoded
    {
        $carrier = $page->body === [] ? $ask->body : ($ask->body ?? new JsonBody(new \stdClass))->with($page->body);

        if ($page->records !== [] && $carrier instanceof JsonBody) {
            return $carrier->encodeAll($values, array_map(static fn (array $record): InputValues => InputValues::of($ask, $given + $record), $page->records));
        }

        return $page->method !== null && $page->body === [] ? null : $carrier?->encode($values);
    }

    private function path(string $path): string
    {
        return $path === '' || $path[0] === '/' ? $path : "/$path";
    }

    /**
     * @param  list<array{string, list<string>, ListStyle, bool}>  $members
     * @param  array<string, string>  $page  replaces members of the same name
     */
    private function queryString(array $members, array $page): string
    {
        $members = array_filter($members, static fn (array $member): bool => ! array_key_exists($member[0], $page));
        foreach ($page as $name => $value) {
            $members[] = [(string) $name, [$value], ListStyle::Comma, false];
        }
        $parts = array_merge(...array_values(array_map(static fn (array $member): array => $member[2]->query($member[0], $member[1], $member[3]), $members)) ?: [[]]);

        return $parts === [] ? '' : '?'.implode('&', $parts);
    }
}
