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

    /**
     * The token of a scheme that has to ask for one.
     *
     * @throws MissingSecret
     * @throws UnusableSecret
     * @throws ConsentMissing
     * @throws TokenRefused
     */
    public function token(TokenScheme $scheme): AccessToken;
}
