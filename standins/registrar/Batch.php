<?php

declare(strict_types=1);

namespace StandIns\Registrar;

use StandIns\Request;
use StandIns\Response;

/**
 * Several requests in one: JSON or multipart.
 */
final class Batch
{
    /** Against forged requests; that of the whole is that of each. */
    private string $token = '';

    public function __construct(private readonly Version $version)
    {
    }

    public function answer(Request $request): Response
    {
        if ($request->method !== 'POST') {
            return Response::json(['error' => ['code' => 'MethodNotAllowed', 'message' => 'A batch is posted.']], 405);
        }
        $this->token = $request->headers['x-csrf-token'] ?? '';
        $type = $request->headers['content-type'] ?? '';
        if (preg_match('~^multipart/mixed\s*;.*boundary="?([^";]+)~i', $type, $part) === 1) {
            return $this->multipart($request->body, $part[1]);
        }
        $batch = json_decode($request->body, true);
        if (! is_array($batch['requests'] ?? null)) {
            return Response::json(['error' => ['code' => 'BadBatch', 'message' => "The member 'requests' is missing."]], 400);
        }
        $responses = [];
        foreach ($batch['requests'] as $one) {
            $answer = $this->one((string) $one['method'], (string) $one['url'], array_change_key_case($one['headers'] ?? []), isset($one['body']) ? (string) json_encode($one['body']) : '');
            $body = json_decode($answer->body);
            $responses[] = ['id' => $one['id'], 'status' => $answer->status, 'headers' => $answer->headers] + ($answer->body === '' ? [] : ['body' => $body ?? $answer->body]);
        }

        return Response::json(['responses' => $responses], 200, ['OData-Version' => '4.01']);
    }

    private function multipart(string $body, string $boundary): Response
    {
        $parts = array_map(function (string $part): string {
            [$outer, $inner] = explode("\n\n", ltrim($part, "\n"), 2) + [1 => ''];

            return preg_match('~^content-type:\s*multipart/mixed\s*;\s*boundary="?([^"\s;]+)~mi', $outer, $set) === 1 ? $this->changeSet(self::parts($inner, $set[1])) : $this->part($outer, $inner)[1];
        }, self::parts(str_replace("\r\n", "\n", $body), $boundary));
        $own = 'answers_'.substr(hash('xxh3', $body), 0, 8);

        return new Response(200, ['Content-Type' => "multipart/mixed; boundary=$own"], implode('', array_map(static fn (string $part): string => "--$own\r\n$part\r\n", $parts))."--$own--\r\n");
    }

    /**
     * @return list<string>
     */
    private static function parts(string $body, string $boundary): array
    {
        $boundary = preg_quote($boundary, '~');

        return array_slice(preg_split('~(?:^|\n)--'.$boundary.'[ \t]*(?:\n|$)~', preg_replace('~(?:^|\n)--'.$boundary.'--.*~s', '', $body) ?? '') ?: [], 1);
    }

    /**
     * All of it is done, or none.
     *
     * @param  list<string>  $parts
     */
    private function changeSet(array $parts): string
    {
        $before = $this->version->state();
        $own = 'set_'.substr(hash('xxh3', implode('', $parts)), 0, 8);
        $answers = '';
        foreach ($parts as $part) {
            [$outer, $inner] = explode("\n\n", ltrim($part, "\n"), 2) + [1 => ''];
            [$status, $text] = $this->part($outer, $inner);
            if ($status >= 400) {
                $this->version->restore($before);

                return $text;
            }
            $answers .= "--$own\r\n$text\r\n";
        }

        return "Content-Type: multipart/mixed; boundary=$own\r\n\r\n$answers--$own--\r\n";
    }

    /**
     * @return array{int, string} its status, and the part of the answer
     */
    private function part(string $outer, string $inner): array
    {
        [$head, $content] = explode("\n\n", $inner, 2) + [1 => ''];
        $lines = explode("\n", trim($head));
        [$method, $url] = explode(' ', array_shift($lines)) + [1 => ''];
        $headers = [];
        foreach ($lines as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            $headers[strtolower($name)] = trim($value);
        }
        preg_match('/^content-id:\s*(\S+)/mi', $outer, $id);
        $answer = $this->one($method, $url, $headers, trim($content));
        $text = "HTTP/1.1 {$answer->status} Answer\r\n".implode('', array_map(static fn (string $name, string $value): string => "$name: $value\r\n", array_keys($answer->headers), $answer->headers))."\r\n{$answer->body}";

        return [$answer->status, "Content-Type: application/http\r\nContent-Transfer-Encoding: binary\r\n".(isset($id[1]) ? "Content-ID: $id[1]\r\n" : '')."\r\n$text"];
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function one(string $method, string $url, array $headers, string $body): Response
    {
        $url = (string) preg_replace('~^https?://[^/]+/registrar/v[24]~', '', $url);
        parse_str((string) parse_url("http://x/$url", PHP_URL_QUERY), $query);

        return $this->version->answer(new Request($method, '/'.ltrim(rawurldecode((string) strtok($url, '?')), '/'), array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $query), $headers + ['x-csrf-token' => $this->token], $body));
    }
}
