<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

use DeepSpring\Access\TokenRefused;

/**
 * Why a service handed out no token: the errors of RFC 6749 §5.2 and §4.1.2.1 one by one, and what
 * is no error of any RFC.
 */
final class TokenTrouble
{
    /**
     * @param  array<string, mixed>  $entry  of the scheme, in the source file
     * @param  int  $number  its place in the list
     * @param  string  $redirect  our redirect address
     * @param  bool|null  $otherPlace  whether the credentials were accepted in the other place; null when that was not tried
     */
    public static function explain(TokenRefused $refused, array $entry, int $number, string $redirect = '', ?bool $otherPlace = null): Diagnosis
    {
        $said = $refused->description === '' ? '' : " It says: \"$refused->description\"";
        $at = ['source', 'access', $number];
        $scope = (string) ($entry['scope'] ?? '');
        $place = $entry['credentials_in'] ?? 'header';
        $other = $place === 'header' ? 'body' : 'header';
        $evidence = array_values(array_filter([$refused->status === 0 ? '' : "status $refused->status", "error: $refused->error", $refused->description]));
        $is = static fn (string ...$codes): bool => in_array($refused->error, $codes, true);
        if (self::isRedirectMismatch($refused)) {
            return new Diagnosis('token-redirect', "The service does not know our redirect address.$said", "Enter exactly this one where the application is registered, letter by letter: $redirect", 'access', Sureness::Certain, $evidence);
        }

        return match (true) {
            $is('invalid_client') && $otherPlace === true => new Diagnosis('token-client-place', "The token endpoint does not take the client id and secret in the $place; it takes them in the $other.$said", 'That was tried just now, and it answered with a token.', 'access', Sureness::Certain, $evidence, Repair::set("Send them in the $other and test", [...$at, 'credentials_in'], $other)),
            $is('invalid_client') => new Diagnosis('token-client', "The token endpoint does not know the client id, or refuses its secret.$said", $otherPlace === false ? "They were refused in the $other as well, so it is the values: compare the client id with the documentation, and set the secret again." : "Compare the client id, set the secret again, or try the other place for them ($other).", 'access', Sureness::Likely, $evidence, $otherPlace === null ? Repair::set("Send them in the $other and test", [...$at, 'credentials_in'], $other) : null),
            $is('invalid_scope') => new Diagnosis('token-scope', "The token endpoint does not grant the scope asked for.$said", 'You ask for: '.($scope === '' ? 'none' : $scope).'. Compare each with the documentation: the spelling, and whether they are parted by a space.', 'access', Sureness::Certain, $evidence, $scope === '' ? null : Repair::set('Ask without a scope and test', [...$at, 'scope'], null)),
            $is('invalid_grant') && ($entry['scheme'] ?? '') === 'jwt-assertion' => new Diagnosis('token-assertion', "The token endpoint does not accept the signed assertion.$said", 'Compare issuer, subject and audience with the documentation, and whether the public half of the key is registered there. A clock that is wrong by minutes also does it.', 'access', Sureness::Likely, $evidence),
            $is('invalid_grant') => new Diagnosis('token-grant', "What the token was asked with is no longer valid.$said", ($entry['scheme'] ?? '') === 'oauth2-authorization-code' ? 'The consent has ended, was withdrawn, or its code was used before. Sign in at the service again.' : 'The refresh token has ended or was replaced. Get a new one and set it under Authentication.', 'access', Sureness::Certain, $evidence),
            $is('unauthorized_client') => new Diagnosis('token-unauthorized', "This client may not ask for a token in this way.$said", 'Where the application is registered, the grant has to be allowed: client credentials, authorization code or refresh token.', 'access', Sureness::Certain, $evidence),
            $is('unsupported_grant_type') => new Diagnosis('token-grant-type', "The token endpoint does not offer this kind of grant.$said", 'Look up in the documentation which it offers, and choose that scheme. An address that is not that of the token endpoint also does it.', 'access', Sureness::Certain, $evidence),
            $is('invalid_request') => new Diagnosis('token-request', "The token endpoint misses something in the request, or finds it twice.$said", 'Some services want an audience or another parameter of their own; it goes under further parameters.', 'access', Sureness::Likely, $evidence),
            $is('access_denied') => new Diagnosis('token-denied', "The sign-in was declined at the service.$said", 'Nothing was changed here. Start again when the person at the service is ready to agree, or sign in there as somebody who may.', 'access', Sureness::Certain, $evidence),
            $is('unsupported_response_type') => new Diagnosis('token-response-type', "The service does not offer the authorization code here.$said", 'Check the authorize address.', 'access', Sureness::Certain, $evidence),
            $is('server_error', 'temporarily_unavailable') => new Diagnosis('token-server', "The service cannot hand out tokens at the moment.$said", 'Try again later.', 'access', Sureness::Certain, $evidence),
            $is('not-json') => new Diagnosis('token-not-json', 'The token endpoint answered with something that is not JSON.', 'The token address is probably that of a web page. Compare it with the documentation, or let it be found from the issuer.', 'access', Sureness::Likely, $evidence),
            $is('no-token') => new Diagnosis('token-absent', $refused->getMessage(), 'Compare where the documentation says the token is, with the answer below.', 'access', Sureness::Certain, $evidence),
            $refused->status === 404, $refused->status === 405 => new Diagnosis('token-address', "There is no token endpoint at this address ($refused->status).$said", 'Compare the token address with the documentation, or let it be found from the issuer.', 'access', Sureness::Certain, $evidence),
            $refused->status === 401, $refused->status === 403 => new Diagnosis('token-client', "The token endpoint refused the client id and secret ($refused->status).$said", "Set the secret again, or try the other place for them ($other).", 'access', Sureness::Likely, $evidence, isset($entry['client_id']) ? Repair::set("Send them in the $other and test", [...$at, 'credentials_in'], $other) : null),
            default => new Diagnosis('token', $refused->getMessage(), 'See the raw answer of the token endpoint.', 'access', Sureness::General, $evidence),
        };
    }

    /**
     * It has a code in no RFC, so every service spells it its own way.
     */
    private static function isRedirectMismatch(TokenRefused $refused): bool
    {
        return preg_match('/redirect.?ur[il].?mismatch|invalid.?redirect|redirect.{0,40}(?:mismatch|does ?n.t match|do not match|not match|not (?:registered|allowed|whitelisted|valid|permitted)|invalid|unregistered)|(?:mismatch|invalid|unregistered|unknown).{0,20}redirect/i', "$refused->error $refused->description") === 1;
    }
}
