<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use Psr\Http\Message\RequestInterface;

/**
 * A scheme that has to ask for a token first. It says how to ask and how to read the answer;
 * sending, keeping and locking are somebody else's.
 */
interface TokenScheme extends Scheme
{
    /**
     * Tokens of schemes with the same id are interchangeable. Made from the settings, without secrets.
     */
    public function id(): string;

    /**
     * Whether every person has a token of their own.
     */
    public function isPersonal(): bool;

    /**
     * Whether a request of this method carries the token.
     */
    public function isFor(string $method): bool;

    /**
     * @param  AccessToken|null  $old  the one that is to be replaced
     *
     * @throws MissingSecret
     * @throws UnusableSecret
     * @throws ConsentMissing when a person has to agree first
     */
    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface;

    /**
     * @throws TokenRefused
     */
    public function read(TokenAnswer $answer, ?AccessToken $old, int $now): AccessToken;
}
