<?php

declare(strict_types=1);

namespace StandIns;

/**
 * Hands out and checks tokens (RFC 6749), which carry what they say and a signature. What cannot
 * be told from a token (which codes and refresh tokens were used, what was withdrawn) is in a file.
 */
final readonly class Desk
{
    public function __construct(private string $service, private Faults $faults)
    {
    }

    /**
     * @param  array<string, mixed>  $more
     */
    public function tokens(string $scope, bool $refresh, array $more = []): Response
    {
        $life = (int) ($this->faults->setting('token_seconds') ?? 600);
        $issued = (int) $this->change(static function (array $state): array {
            $state['issued'] = ($state['issued'] ?? 0) + 1;

            return [$state, $state['issued']];
        });
        $answer = ['access_token' => $this->make('access', $scope, $life), 'token_type' => 'Bearer', 'expires_in' => $life, 'scope' => $scope];
        if ($this->faults->setting('no_expiry') === true) {
            unset($answer['expires_in']);
        }

        return Response::json($answer + ($refresh ? ['refresh_token' => $this->make('refresh', $scope, 86_400)] : []) + $more + ['issued' => $issued], 200, ['Cache-Control' => 'no-store']);
    }

    public function mayOnlyRead(): bool
    {
        return $this->faults->setting('read_only') === true;
    }

    /**
     * What a token says: its scope, or null when it is none of ours, has ended or was withdrawn.
     */
    public function scopeOf(string $token, string $kind = 'access'): ?string
    {
        [$data, $signature] = explode('.', $token, 2) + [1 => ''];
        if (! hash_equals($this->sign($data), $signature)) {
            return null;
        }
        $says = json_decode((string) base64_decode(strtr($data, '-_', '+/'), true), true);
        if (! is_array($says) || $says['kind'] !== $kind || $says['until'] < microtime(true) || $says['made'] < ($this->faults->setting('withdrawn_before') ?? 0)) {
            return null;
        }

        return in_array(hash('xxh128', $token), $this->state()['used'] ?? [], true) ? null : (string) $says['scope'];
    }

    /**
     * Marks a code or refresh token as used; false when it was already.
     */
    public function spend(string $token): bool
    {
        $mark = hash('xxh128', $token);

        return (bool) $this->change(static function (array $state) use ($mark): array {
            $fresh = ! in_array($mark, $state['used'] ?? [], true);
            $state['used'] = [...($state['used'] ?? []), $mark];

            return [$state, $fresh];
        });
    }

    public function make(string $kind, string $scope, int $life): string
    {
        $data = rtrim(strtr(base64_encode((string) json_encode(['kind' => $kind, 'scope' => $scope, 'made' => microtime(true), 'until' => microtime(true) + $life, 'no' => bin2hex(random_bytes(6))])), '+/', '-_'), '=');

        return $data.'.'.$this->sign($data);
    }

    /**
     * Client id and secret of a request, by header (RFC 6749 §2.3.1) or body.
     *
     * @param  array<array-key, mixed>  $form
     * @return array{string, string, string} id, secret, place
     */
    public static function client(Request $request, array $form): array
    {
        $header = $request->headers['authorization'] ?? '';
        if (str_starts_with($header, 'Basic ')) {
            [$id, $secret] = explode(':', (string) base64_decode(substr($header, 6), true), 2) + [1 => ''];

            return [urldecode($id), urldecode($secret), 'header'];
        }

        return [(string) ($form['client_id'] ?? ''), (string) ($form['client_secret'] ?? ''), 'body'];
    }

    public static function error(string $code, string $description, int $status = 400): Response
    {
        return Response::json(['error' => $code, 'error_description' => $description], $status, ['Cache-Control' => 'no-store'] + ($status === 401 ? ['WWW-Authenticate' => 'Basic realm="token"'] : []));
    }

    /**
     * @param  \Closure(array<string, mixed>): array{array<string, mixed>, mixed}  $how
     */
    public function change(\Closure $how): mixed
    {
        return $this->notes()->change($how);
    }

    /**
     * @return array<string, mixed>
     */
    public function state(): array
    {
        return $this->notes()->read();
    }

    private function notes(): Notebook
    {
        return new Notebook($this->service, 'desk');
    }

    private function sign(string $data): string
    {
        return substr(hash_hmac('sha256', $data, "desk of {$this->service}"), 0, 24);
    }
}
