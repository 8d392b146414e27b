<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Outlets\KeyRing;
use App\Outlets\RefusedKeys;
use App\Outlets\ShortTokens;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Tokens for a key, by the client credentials grant (RFC 6749 §4.4): the client is the beginning of the key, its secret
 * the key.
 */
final class TokenController extends Controller
{
    public function __construct(private readonly KeyRing $keys, private readonly ShortTokens $tokens, private readonly RefusedKeys $refused)
    {
    }

    public function __invoke(Request $request): Response
    {
        parse_str($request->getContent(), $fields);
        $form = array_filter($fields, is_string(...));
        if (! str_starts_with(strtolower((string) $request->headers->get('content-type')), 'application/x-www-form-urlencoded')) {
            return self::refused(400, 'invalid_request', 'The request is a form: application/x-www-form-urlencoded.');
        }
        $grant = $form['grant_type'] ?? '';
        if ($grant !== 'client_credentials') {
            return self::refused(400, $grant === '' ? 'invalid_request' : 'unsupported_grant_type', 'grant_type is client_credentials.');
        }
        // Encoded once more in the header (§2.3.1).
        $hasHeader = $request->headers->has('php-auth-user');
        [$client, $secret] = $hasHeader ? [urldecode((string) $request->getUser()), urldecode((string) $request->getPassword())] : [$form['client_id'] ?? '', $form['client_secret'] ?? ''];
        $key = $this->keys->key($secret);
        if ($key === null || str_starts_with($secret, ShortTokens::BEGINNING) || ! hash_equals($key->beginning, $client) || ! $key->consumer->mayComeFrom((string) $request->ip())) {
            $wait = $this->refused->wait((string) $request->ip());
            if ($wait !== null) {
                return self::refused(429, 'invalid_client', 'More than '.RefusedKeys::A_MINUTE." keys a minute that open nothing came from this address. The next is looked at in $wait s.", ['Retry-After' => (string) $wait]);
            }

            return self::refused(401, 'invalid_client', 'client_id is the beginning of a key, its first '.KeyRing::BEGINNING.' characters, and client_secret all of it.');
        }

        return self::json(200, ['access_token' => $this->tokens->give($key), 'token_type' => 'Bearer', 'expires_in' => ShortTokens::SECONDS]);
    }

    /**
     * §5.2
     *
     * @param  array<string, string>  $headers
     */
    private static function refused(int $status, string $error, string $description, array $headers = []): Response
    {
        return self::json($status, ['error' => $error, 'error_description' => $description], $headers + ($status === 401 ? ['WWW-Authenticate' => 'Basic realm="feeds"'] : []));
    }

    /**
     * @param  array<string, mixed>  $body
     * @param  array<string, string>  $headers
     */
    private static function json(int $status, array $body, array $headers = []): Response
    {
        return new Response((string) json_encode($body), $status, $headers + ['Content-Type' => 'application/json', 'Cache-Control' => 'no-store', 'Pragma' => 'no-cache']);
    }
}
