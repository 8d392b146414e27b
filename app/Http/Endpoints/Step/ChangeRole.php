<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\EndpointRole;

/**
 * A role that was just chosen brings the method that it usually has, and a body where one is usual.
 */
final readonly class ChangeRole implements EndpointStep
{
    /** Role → methods that are usual for it, the first one first. */
    private const METHODS = [
        'list' => ['GET', 'POST'], 'get' => ['GET', 'POST'], 'create' => ['POST', 'PUT'], 'update' => ['PATCH', 'PUT', 'POST', 'MERGE'],
        'delete' => ['DELETE', 'POST'], 'call' => ['POST', 'PUT', 'GET', 'PATCH', 'DELETE'],
    ];

    public static function name(): string
    {
        return 'does';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $does = EndpointRole::tryFrom((string) ($endpoint['does'] ?? '')) ?? EndpointRole::List;
        $usual = self::METHODS[$does->value];
        if (! in_array($endpoint['ask']['method'] ?? 'GET', $usual, true)) {
            $endpoint['ask']['method'] = $usual[0];
        }
        if (in_array($does, [EndpointRole::Create, EndpointRole::Update], true) && ! isset($endpoint['ask']['body'])) {
            $endpoint['ask']['body'] = ['as' => Bodies::USUAL, 'of' => new \stdClass];
        }

        return $endpoint;
    }
}
