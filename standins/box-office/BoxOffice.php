<?php

declare(strict_types=1);

namespace StandIns\BoxOffice;

use StandIns\Desk;
use StandIns\Faults;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * Tickets sold by day and door, for those to whom a person of the box office agreed.
 */
final readonly class BoxOffice implements StandIn
{
    public const CLIENT = 'deep-spring';

    public const SECRET = 'bo-secret-1d77c0a94be2f683';

    private const SCOPES = ['tickets.read' => 'See how many tickets were sold, by day and door', 'doors.read' => 'See the doors and when they open'];

    private const DAYS = 365;

    private const DOORS = ['main', 'quay', 'garden'];

    public function __construct(private Desk $desk, private Faults $faults)
    {
    }

    public function answer(Request $request): Response
    {
        $path = $request->path;

        return match (true) {
            $path === '/.well-known/oauth-authorization-server' => $this->metadata(),
            $path === '/oauth/authorize' => $request->method === 'POST' ? $this->decided($request) : $this->consentPage($request),
            $path === '/oauth/token' && $request->method === 'POST' => $this->token($request),
            $path === '/oauth/revoke' && $request->method === 'POST' => $this->revoke($request),
            $path === '/v1/tickets' => $this->tickets($request),
            default => Response::json(['error' => 'not_found', 'message' => 'No such page at the box office.'], 404),
        };
    }

    /**
     * RFC 8414 §2.
     */
    private function metadata(): Response
    {
        $issuer = Request::origin().'/box-office';

        return Response::json([
            'issuer' => $issuer, 'authorization_endpoint' => "$issuer/oauth/authorize", 'token_endpoint' => "$issuer/oauth/token", 'revocation_endpoint' => "$issuer/oauth/revoke",
            'scopes_supported' => array_keys(self::SCOPES), 'response_types_supported' => ['code'], 'grant_types_supported' => ['authorization_code', 'refresh_token'],
            'code_challenge_methods_supported' => ['S256'], 'token_endpoint_auth_methods_supported' => ['client_secret_basic', 'client_secret_post'],
        ]);
    }

    private function consentPage(Request $request): Response
    {
        $q = $request->query;
        $fault = $this->unusable($q);
        if ($fault !== null) {
            return Response::html("<!doctype html><html lang=\"en\"><title>Box office</title><h1>This sign-in cannot go on</h1><p>$fault</p></html>", 400);
        }
        $e = static fn (string $text): string => htmlspecialchars($text, ENT_QUOTES);
        $fields = '';
        foreach (['client_id', 'redirect_uri', 'state', 'scope', 'code_challenge'] as $name) {
            $fields .= '<input type="hidden" name="'.$name.'" value="'.$e($q[$name] ?? '').'">';
        }
        $asked = '';
        foreach (array_filter(explode(' ', $q['scope'] ?? 'tickets.read')) as $scope) {
            $asked .= '<li>'.$e(self::SCOPES[$scope] ?? "$scope (unknown)").'</li>';
        }

        return Response::html(<<<HTML
            <!doctype html><html lang="en"><head><meta charset="utf-8"><title>Box office: agree?</title></head><body>
            <h1>Box office of the Saltmarsh Circle</h1>
            <p><strong>Deep Spring</strong> would like to:</p><ul>$asked</ul>
            <form method="post">$fields<button id="allow" name="decision" value="allow">Agree</button> <button id="deny" name="decision" value="deny">Decline</button></form>
            </body></html>
            HTML);
    }

    private function decided(Request $request): Response
    {
        $form = array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $request->form());
        $fault = $this->unusable($form);
        if ($fault !== null) {
            return Response::html("<p>$fault</p>", 400);
        }
        $strange = array_diff(array_filter(explode(' ', $form['scope'] ?? '')), array_keys(self::SCOPES));
        $back = match (true) {
            ($form['decision'] ?? '') !== 'allow' => ['error' => 'access_denied', 'error_description' => 'The box office declined.'],
            $strange !== [] => ['error' => 'invalid_scope', 'error_description' => 'Unknown scope: '.implode(' ', $strange)],
            default => ['code' => $code = $this->desk->make('code', $form['scope'] ?: 'tickets.read', 60)],
        };
        if (isset($code)) {
            $this->desk->change(static fn (array $state): array => [['codes' => [hash('xxh128', $code) => ['challenge' => $form['code_challenge'] ?? '', 'redirect' => $form['redirect_uri'] ?? '']] + array_slice($state['codes'] ?? [], -50)] + $state, null]);
        }

        return new Response(302, ['Location' => $form['redirect_uri'].'?'.http_build_query($back + ['state' => $form['state'] ?? ''])], '');
    }

    private function token(Request $request): Response
    {
        $form = array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $request->form());
        [$id, $secret] = Desk::client($request, $form);
        if ($id !== self::CLIENT || $secret !== self::SECRET) {
            return Desk::error('invalid_client', 'Unknown client, or wrong secret.', 401);
        }

        return match ($form['grant_type'] ?? '') {
            'authorization_code' => $this->code($form),
            'refresh_token' => $this->refresh($form),
            default => Desk::error('unsupported_grant_type', 'authorization_code and refresh_token are offered.'),
        };
    }

    /**
     * RFC 6749 §4.1.3 with RFC 7636 §4.6.
     *
     * @param  array<array-key, string>  $form
     */
    private function code(array $form): Response
    {
        $code = $form['code'] ?? '';
        $scope = $this->desk->scopeOf($code, 'code');
        $known = $this->desk->state()['codes'][hash('xxh128', $code)] ?? null;
        if ($scope === null || ! is_array($known) || ! $this->desk->spend($code)) {
            return Desk::error('invalid_grant', 'This code is not valid, has ended, or was used before.');
        }
        if ($known['redirect'] !== ($form['redirect_uri'] ?? '')) {
            return Desk::error('invalid_grant', 'redirect_uri does not match the one of the sign-in.');
        }
        $challenge = rtrim(strtr(base64_encode(hash('sha256', $form['code_verifier'] ?? '', true)), '+/', '-_'), '=');
        if ($known['challenge'] !== '' && ! hash_equals($known['challenge'], $challenge)) {
            return Desk::error('invalid_grant', 'code_verifier does not belong to the code_challenge.');
        }

        return $this->desk->tokens($scope, true);
    }

    /**
     * A refresh token is good once, and replaced.
     *
     * @param  array<array-key, string>  $form
     */
    private function refresh(array $form): Response
    {
        $token = $form['refresh_token'] ?? '';
        $scope = $this->desk->scopeOf($token, 'refresh');

        return $scope !== null && $this->desk->spend($token) ? $this->desk->tokens($scope, true) : Desk::error('invalid_grant', 'This refresh token is not valid, or was used before.');
    }

    /**
     * RFC 7009 §2.2: 200 whether or not there was such a token.
     */
    private function revoke(Request $request): Response
    {
        $form = $request->form();
        [$id, $secret] = Desk::client($request, $form);
        if ($id !== self::CLIENT || $secret !== self::SECRET) {
            return Desk::error('invalid_client', 'Unknown client, or wrong secret.', 401);
        }
        $this->desk->spend((string) ($form['token'] ?? ''));

        return new Response(200, ['Content-Type' => 'application/json'], '{}');
    }

    private function tickets(Request $request): Response
    {
        $token = preg_match('/^Bearer (\S+)$/D', $request->headers['authorization'] ?? '', $part) === 1 ? $part[1] : '';
        $scope = $this->desk->scopeOf($token);
        if ($scope === null) {
            return Response::json(['error' => ['message' => $token === '' ? 'Sign in first.' : 'The token has ended or was withdrawn.']], 401, ['WWW-Authenticate' => 'Bearer realm="box-office"'.($token === '' ? '' : ', error="invalid_token"')]);
        }
        if (! in_array('tickets.read', explode(' ', $scope), true)) {
            return Response::json(['error' => ['message' => 'The scope tickets.read is missing.']], 403, ['WWW-Authenticate' => 'Bearer error="insufficient_scope", scope="tickets.read"']);
        }
        $page = $request->number('page', 1, 1, 100_000);
        $size = $request->number('per_page', 100, 1, 200);
        if ($page === null || $size === null) {
            return Response::json(['error' => ['message' => 'page and per_page must be numbers.']], 400);
        }
        $all = self::DAYS * count(self::DOORS);
        $tickets = [];
        for ($n = ($page - 1) * $size; $n < min($all, $page * $size); $n++) {
            $door = self::DOORS[$n % 3];
            $sold = Words::number("sold$n", 0, 420);
            $tickets[] = ['day' => gmdate('Y-m-d', (int) gmmktime(0, 0, 0, 1, 1 + intdiv($n, 3), 2030)), 'door' => $door, 'sold' => $sold, 'reduced' => Words::number("reduced$n", 0, $sold), 'takings' => number_format($sold * 9.5 - Words::number("back$n", 0, 900) / 10, 2, '.', '')];
        }

        return Response::json(['tickets' => $tickets, 'page' => $page, 'pages' => (int) ceil($all / $size), 'total' => $all]);
    }

    /**
     * @param  array<array-key, string>  $q
     */
    private function unusable(array $q): ?string
    {
        $registered = $this->faults->setting('redirect_uri');
        $right = $registered === null ? preg_match('~^http://(127\.0\.0\.1|localhost)(:\d+)?/consent/return$~D', $q['redirect_uri'] ?? '') === 1 : ($q['redirect_uri'] ?? '') === $registered;

        return match (true) {
            ($q['client_id'] ?? '') !== self::CLIENT => 'invalid_client: there is no application of this id.',
            ! $right => 'redirect_uri_mismatch: the redirect address is not registered for this application.',
            default => null,
        };
    }
}
