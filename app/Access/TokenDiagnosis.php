<?php

declare(strict_types=1);

namespace App\Access;

use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\OAuth\ClientCredentials;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\TokenAnswer;
use DeepSpring\Access\TokenRefused;
use DeepSpring\Access\TokenScheme;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\TokenTrouble;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * Why no token could be had. When the client was refused, the other place for its credentials is
 * tried, so that the repair which is offered is known to work.
 */
final class TokenDiagnosis
{
    /**
     * @param  array<int, Scheme>  $access
     * @param  \Closure(Sent): (Diagnosis|null)  $explain  what an exchange with the token endpoint says
     */
    public static function of(Transport $transport, TokenUnavailable $unavailable, SourceDefinition $definition, array $access, StoredSecrets $secrets, \Closure $explain): Diagnosis
    {
        $number = self::place($unavailable->scheme, $access);
        if ($unavailable->refused === null) {
            $why = $unavailable->sent === null ? null : $explain($unavailable->sent);

            return $why === null ? new Diagnosis('token', $unavailable->getMessage(), 'Try again later.', 'access')
                : new Diagnosis($why->code, "No token could be had: $why->what", $why->advice, 'access', $why->sure, $why->evidence);
        }
        $entry = $definition->accessEntries()[$number] ?? [];

        return TokenTrouble::explain($unavailable->refused, $entry, $number, Consents::redirectAddress(), self::otherPlace($transport, $unavailable, $entry, $secrets));
    }

    /**
     * @param  array<int, Scheme>  $access
     */
    private static function place(?TokenScheme $scheme, array $access): int
    {
        foreach ($access as $number => $one) {
            if ($one instanceof TokenScheme && $one->id() === $scheme?->id()) {
                return $number;
            }
        }

        return 0;
    }

    /**
     * Only where asking twice spends nothing: client credentials.
     *
     * @param  array<string, mixed>  $entry
     */
    private static function otherPlace(Transport $transport, TokenUnavailable $unavailable, array $entry, StoredSecrets $secrets): ?bool
    {
        $refused = $unavailable->refused;
        if (! $unavailable->scheme instanceof ClientCredentials || $refused === null || ! ($refused->error === 'invalid_client' || $refused->status === 401)) {
            return null;
        }
        $other = $unavailable->scheme->elsewhere();
        $sent = $transport->send($other->tokenRequest($secrets, null, time()), new Limits(15, 1, 65536), $secrets->mask($other->sensitive($secrets)));
        $secrets->record($sent);
        if ($sent->status === null) {
            return null;
        }
        try {
            $secrets->noteToken($other->read(new TokenAnswer($sent->status, $sent->headers, $sent->body), null, time()));

            return true;
        } catch (TokenRefused) {
            return false;
        }
    }
}
