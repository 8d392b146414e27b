<?php

declare(strict_types=1);

namespace App\Changes;

use App\Transport\Sent;
use DeepSpring\Ask\SendFailure;

/**
 * The answer to one of several changes in a request, in the shape of an answer of its own.
 */
final class PartSent
{
    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public static function answered(Sent $whole, int $status, array $headers, string $body): Sent
    {
        return new Sent($whole->request, $status, '', $whole->protocol, $headers, $body, null, '', $whole->timing);
    }

    /**
     * The whole was answered, and nothing in it is about this one.
     */
    public static function silent(Sent $whole): Sent
    {
        return new Sent($whole->request, null, '', $whole->protocol, [], '', SendFailure::Cut, 'The answer to several changes at once says nothing about this one.', $whole->timing);
    }
}
