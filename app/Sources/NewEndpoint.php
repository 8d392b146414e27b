<?php

declare(strict_types=1);

namespace App\Sources;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\Method;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Describe\Slugs;

/**
 * An endpoint described by hand, with as little as its path.
 */
final class NewEndpoint
{
    /**
     * @param  array<string, mixed>  $document  that it will stand in
     * @return array<string, mixed>
     */
    public static function byHand(array $document, string $path, string $method, string $does, string $name): array
    {
        $role = EndpointRole::tryFrom($does) ?? EndpointRole::guess($method === '' ? 'GET' : $method, $path);
        $method = Method::isOne($method) ? $method : ['create' => 'POST', 'update' => 'PATCH', 'delete' => 'DELETE', 'call' => 'POST'][$role->value] ?? 'GET';
        $name = $name !== '' ? $name : EndpointNames::of($role, $path);
        preg_match_all('/\{([^{}]+)\}/', $path, $found);
        $inputs = array_map(static fn (string $input): array => ['name' => $input, 'in' => 'path', 'required' => true], array_values(array_unique($found[1])));
        $slug = (new Slugs(array_column($document['endpoints'] ?? [], 'slug')))->take($name);

        return ['slug' => $slug, 'name' => $name, 'does' => $role->value, 'ask' => ['method' => $method, 'path' => $path] + ($inputs === [] ? [] : ['inputs' => $inputs]) + (in_array($role, [EndpointRole::Create, EndpointRole::Update], true) ? ['body' => ['as' => 'json', 'of' => new \stdClass]] : [])];
    }
}
