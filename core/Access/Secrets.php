<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * The values behind `{secret: name}`, for one source in one environment.
 */
interface Secrets
{
    /**
     * @throws MissingSecret
     */
    public function get(string $name): string;
}
