<?php

declare(strict_types=1);

namespace StandIns\PostRoom;

use StandIns\Notebook;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;

/**
 * Catches what others send: calls under `/hooks`, and mail, which `smtp.php` writes into the same notebook.
 */
final readonly class PostRoom implements StandIn
{
    /** Of what came, the newest are kept. */
    public const MOST = 300;

    /** Seconds by which the time of a call may differ from now. */
    private const TOLERANCE = 300;

    public function __construct(private Notebook $notebook)
    {
    }

    public function answer(Request $request): Response
    {
        return match (true) {
            str_starts_with($request->path, '/hooks') => $this->call($request),
            $request->path === '/secret' && $request->method === 'PUT' => $this->secret($request),
            $request->path === '/came' && $request->method === 'DELETE' => $this->clear(),
            $request->path === '/came' => Response::json($this->came()),
            $request->path === '/inbox' => Response::html($this->inbox()),
            default => Response::json(['error' => 'not_found'], 404),
        };
    }

    /**
     * @param  array<string, mixed>  $one
     */
    public static function keep(Notebook $notebook, array $one): void
    {
        $notebook->change(static fn (array $state): array => [['came' => array_slice([...$state['came'] ?? [], ['at' => gmdate('Y-m-d\TH:i:s\Z')] + $one], -self::MOST)] + $state, null]);
    }

    /**
     * Taken, unless `?answers=` says otherwise.
     */
    private function call(Request $request): Response
    {
        $secret = $this->notebook->read()['secret'] ?? null;
        self::keep($this->notebook, ['kind' => 'call', 'method' => $request->method, 'path' => $request->path, 'headers' => $request->headers, 'body' => $request->body, 'signature' => is_string($secret) ? self::judged($request, $secret) : 'not looked at']);
        $status = (int) ($request->query['answers'] ?? 204);

        return match (true) {
            $status === 204 => new Response(204, [], ''),
            $status >= 300 && $status < 400 => new Response($status, ['Location' => '/post-room/hooks/elsewhere'], ''),
            $status >= 200 && $status < 600 => Response::json(['message' => $status < 300 ? 'Taken.' : 'The post room is shut.'], $status),
            default => Response::json(['message' => 'answers is a status.'], 400),
        };
    }

    /**
     * As Standard Webhooks asks of who receives.
     */
    private static function judged(Request $request, string $secret): string
    {
        $id = $request->headers['webhook-id'] ?? '';
        $at = $request->headers['webhook-timestamp'] ?? '';
        $given = $request->headers['webhook-signature'] ?? '';
        if ($id === '' || ! ctype_digit($at) || $given === '') {
            return 'missing';
        }
        if (abs(time() - (int) $at) > self::TOLERANCE) {
            return 'too old';
        }
        $right = base64_encode(hash_hmac('sha256', implode('.', [$id, $at, $request->body]), (string) base64_decode(substr($secret, strlen('whsec_'))), true));
        foreach (explode(' ', $given) as $one) {
            if (hash_equals("v1,$right", $one)) {
                return 'right';
            }
        }

        return 'wrong';
    }

    private function secret(Request $request): Response
    {
        $secret = ((array) json_decode($request->body, true))['secret'] ?? null;
        $this->notebook->change(static fn (array $state): array => [['secret' => $secret] + $state, null]);

        return Response::json(['ok' => true]);
    }

    private function clear(): Response
    {
        $this->notebook->change(static fn (array $state): array => [['came' => []] + $state, null]);

        return new Response(204, [], '');
    }

    /**
     * @return list<array<string, mixed>> the newest last
     */
    private function came(): array
    {
        return array_map(static function (array $one): array {
            if ($one['kind'] !== 'mail') {
                return $one;
            }
            $mail = new CaughtMail($one['raw']);

            return ['subject' => $mail->subject, 'text' => $mail->text, 'message_id' => $mail->headers['message-id'] ?? null] + $one;
        }, array_values($this->notebook->read()['came'] ?? []));
    }

    private function inbox(): string
    {
        $e = static fn (mixed $text): string => htmlspecialchars((string) $text, ENT_QUOTES | ENT_SUBSTITUTE);
        $rows = '';
        foreach (array_reverse($this->came()) as $one) {
            $rows .= $one['kind'] === 'mail'
                ? "<article><h2>{$e($one['subject'])}</h2><p>Mail at {$e($one['at'])} to {$e(implode(', ', $one['to']))}</p><pre>{$e($one['text'])}</pre></article>"
                : "<article><h2>{$e($one['method'])} {$e($one['path'])}</h2><p>Call at {$e($one['at'])}, signature: {$e($one['signature'])}</p><pre>{$e($one['body'])}</pre></article>";
        }

        return '<!doctype html><html lang="en"><meta charset="utf-8"><title>Post room: what came</title><style>body{font:15px/1.5 sans-serif;margin:2rem;max-width:60rem}pre{background:#f1f1ec;padding:.7rem;white-space:pre-wrap;overflow-wrap:anywhere}article{border-top:1px solid #bbb}</style><h1>What came</h1>'.($rows === '' ? '<p>Nothing yet.</p>' : $rows).'</html>';
    }
}
