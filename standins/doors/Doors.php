<?php

declare(strict_types=1);

namespace StandIns\Doors;

use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;

/**
 * Every way in which a door can stay shut, each under its own path. What is deeper than an answer
 * (names, ports, certificates) is listed on the page of documentation.
 */
final readonly class Doors implements StandIn
{
    public function __construct(private Inside $inside)
    {
    }

    public function answer(Request $request): Response
    {
        $name = ltrim($request->path, '/');

        return $this->inside->answer($request)
            ?? $this->credentials($request, $name)
            ?? $this->requests($request, $name)
            ?? $this->service($name)
            ?? $this->bodies($request, $name)
            ?? $this->paths($request)
            ?? Response::json(['error' => 'not_found'], 404);
    }

    private function credentials(Request $request, string $name): ?Response
    {
        $authorization = $request->headers['authorization'] ?? '';
        $key = 'dr-demo-2b9f61c07ae4d853';
        $problem = static fn (string $message, string $challenge, int $status = 401): Response => Response::json(['message' => $message], $status, $challenge === '' ? [] : ['WWW-Authenticate' => $challenge]);

        return match ($name) {
            'bearer' => $authorization === "Bearer $key" ? Response::json(['in' => true]) : $problem('No entry.', 'Bearer realm="doors"'),
            'basic' => $authorization === 'Basic '.base64_encode("keeper:$key") ? Response::json(['in' => true]) : $problem('No entry.', 'Basic realm="doors"'),
            'key' => ($request->headers['x-door-key'] ?? '') === $key ? Response::json(['in' => true]) : $problem('No entry.', 'Key header="X-Door-Key"'),
            'expired' => $problem('The token has expired.', 'Bearer error="invalid_token", error_description="The token has expired"'),
            'silent' => $problem('No entry.', ''),
            'scope' => $problem('This needs doors.open.', 'Bearer error="insufficient_scope", scope="doors.open"', 403),
            'role' => $problem('Your role may not open this door.', '', 403),
            'address' => $problem('Your IP address 192.0.2.7 is not allowed here.', '', 403),
            'denied' => Response::json([], 403),
            default => null,
        };
    }

    private function requests(Request $request, string $name): ?Response
    {
        $unknown = array_values(array_diff(array_map(strval(...), array_keys($request->query)), ['house', 'limit', 'slow', 'fault']));

        return match ($name) {
            'strict' => match (true) {
                $unknown !== [] => Response::json(['message' => "Unknown parameter: {$unknown[0]}. Allowed: house, limit."], 400),
                isset($request->query['limit']) && ! ctype_digit($request->query['limit']) => Response::json(['errors' => [['field' => 'limit', 'message' => 'limit must be an integer']]], 400),
                default => Response::json(['house' => $request->query['house'] ?? null]),
            },
            'missing' => Response::json(['errors' => [['field' => 'house', 'message' => 'house is required']]], 422),
            'nested' => Response::json(['type' => 'about:blank', 'title' => 'Invalid', 'status' => 422, 'errors' => [['pointer' => '/insurance/policy', 'detail' => 'is required when insurance is sent']]], 422, ['Content-Type' => 'application/problem+json']),
            'fields' => Response::json(['errors' => ['due' => ['lies in the past'], 'crate' => ['is not ours']]], 422),
            'unclear' => Response::json(['message' => 'Bad request'], 400),
            'post-only' => Response::json(['error' => 'method_not_allowed'], 405, ['Allow' => 'POST']),
            'picky' => str_contains($request->headers['accept'] ?? '', 'vnd.door') ? new Response(200, ['Content-Type' => 'application/vnd.door+json'], '{"open":true}') : Response::json(['offers' => ['application/vnd.door+json']], 406),
            'body' => Response::json(['takes' => ['application/json']], 415, ['Accept-Post' => 'application/json']),
            'conflict' => Response::json(['message' => 'The door is held by somebody.'], 409),
            'gone' => Response::json(['message' => 'Walled up.'], 410),
            'heavy' => Response::json(['message' => 'Too heavy.'], 413),
            'changed' => Response::json(['message' => 'It was painted meanwhile.'], 412),
            default => null,
        };
    }

    private function service(string $name): ?Response
    {
        return match ($name) {
            'crowd' => Response::json(['message' => 'Too many.'], 429, ['Retry-After' => '7']),
            'crowd-silent' => Response::json(['message' => 'Too many.'], 429),
            'broken' => Response::json(['message' => 'The hinge is off: see ticket.', 'trace_id' => 'dr-8812-a7'], 500),
            'broken-silent' => new Response(500, ['Content-Type' => 'text/plain'], ''),
            'behind' => Response::html('<html><head><title>502 Bad Gateway</title></head></html>', 502),
            'closed' => Response::json(['message' => 'Closed.'], 503, ['Retry-After' => '60']),
            'tired' => Response::html('<html><head><title>504 Gateway Time-out</title></head></html>', 504),
            'moved' => new Response(301, ['Location' => '/doors/open'], ''),
            'elsewhere' => new Response(302, ['Location' => 'http://localhost:'.(parse_url(Request::origin(), PHP_URL_PORT) ?: 80).'/doors/open'], ''),
            'to-sign-in' => new Response(302, ['Location' => 'http://sign-in.saltmarsh.example/login?next=/doors'], ''),
            'inward' => new Response(307, ['Location' => 'http://169.254.169.254/latest/meta-data/'], ''),
            default => null,
        };
    }

    private function bodies(Request $request, string $name): ?Response
    {
        $json = ['Content-Type' => 'application/json'];

        return match ($name) {
            'open' => Response::json(['data' => [['id' => 1], ['id' => 2]]]),
            'sign-in-page' => Response::html('<!doctype html><html><head><title>Sign in to the Circle</title></head><body><form><input type="password"></form></body></html>'),
            'proxy-page' => new Response(200, ['Content-Type' => 'text/html', 'Via' => '1.1 gate'], '<!doctype html><html><head><title>Web filter</title></head><body>Blocked by the house gateway.</body></html>'),
            'website' => Response::html('<!doctype html><html><head><title>The Saltmarsh Circle</title></head><body>Welcome.</body></html>'),
            'error-inside' => Response::json(['success' => false, 'error' => ['message' => 'The ledger is locked.']]),
            'filtered' => Response::json(['data' => isset($request->query['house']) ? [] : [['id' => 1]]]),
            'nothing' => new Response(204, [], ''),
            'empty' => new Response(200, $json, ''),
            'latin' => new Response(200, ['Content-Type' => 'application/json; charset=iso-8859-1'], "{\"name\":\"\xD8deg\xE5rd\"}"),
            'gzip-absent' => new Response(200, $json + (str_contains($request->headers['accept-encoding'] ?? '', 'gzip') ? ['Content-Encoding' => 'gzip'] : []), '{"data":[{"id":1}]}'),
            'gzip-silent' => new Response(200, $json, str_contains($request->headers['accept-encoding'] ?? '', 'gzip') ? (string) gzencode('{"data":[{"id":1}]}') : '{"data":[{"id":1}]}'),
            'mark' => new Response(200, $json, "\xEF\xBB\xBF".'{"data":[{"id":1}]}'),
            'guard' => new Response(200, $json, ")]}',\n".'{"data":[{"id":1}]}'),
            'script' => new Response(200, ['Content-Type' => 'application/javascript'], 'show({"data":[{"id":1}]});'),
            'lines' => new Response(200, ['Content-Type' => 'application/x-ndjson'], "{\"id\":1}\n{\"id\":2}\n"),
            'xml' => new Response(200, ['Content-Type' => 'application/xml'], '<?xml version="1.0"?><doors><door id="1"/></doors>'),
            'token' => Response::json(['access_token' => 'dr-not-for-you-0000', 'token_type' => 'Bearer', 'expires_in' => 60]),
            'prose' => new Response(200, ['Content-Type' => 'text/plain'], 'All is well.'),
            default => null,
        };
    }

    /**
     * `/v2/doors` is there; a path that doubles a part, lacks the version, ends in a slash or has
     * the id in the query is not.
     */
    private function paths(Request $request): ?Response
    {
        return match (true) {
            $request->path === '/v2/doors' => Response::json(['data' => [['id' => 1], ['id' => 2]]]),
            preg_match('~^/v2/doors/(\d+)$~D', $request->path, $part) === 1 => Response::json(['id' => (int) $part[1]]),
            $request->path === '/v2/slashed' => Response::json(['detail' => 'There is a trailing slash missing.'], 404),
            $request->path === '/v2/slashed/' => Response::json(['data' => []]),
            default => null,
        };
    }
}
