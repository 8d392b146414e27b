<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * A scheme that proves who is asking while the connection is made, before there is a request.
 */
interface SecuresConnection
{
    /**
     * @throws MissingSecret
     * @throws UnusableSecret
     */
    public function certificate(Secrets $secrets): Certificate;
}
