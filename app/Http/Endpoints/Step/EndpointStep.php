<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * What a button of an endpoint's sheet asks for beyond the fields.
 */
interface EndpointStep
{
    /**
     * As the sheet calls it in `do`.
     */
    public static function name(): string;

    public static function of(Asked $asked): self;

    /**
     * @param  array<string, mixed>  $endpoint  with the fields applied
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile when it cannot be done
     */
    public function apply(array $endpoint, EndpointContext $context): array;
}
