<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use Psr\Http\Message\RequestInterface;

/**
 * One way of saying who is asking. Schemes are applied in the order of the source file, each to
 * the request that the one before it made.
 */
interface Scheme
{
    /**
     * @throws MissingSecret
     */
    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface;

    /**
     * What of the request must not be shown to anybody: the secrets and what is made from them.
     *
     * @return list<string>
     *
     * @throws MissingSecret
     */
    public function sensitive(Secrets $secrets): array;

    /**
     * @return list<string>
     */
    public function secretNames(): array;

    /**
     * In a few words, for a screen.
     */
    public function label(): string;

    /**
     * The header it sets, in lower case, when it sets one.
     */
    public function header(): ?string;
}
