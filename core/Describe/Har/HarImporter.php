<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Har;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Curl\FormPart;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Seen\Endpoints;
use DeepSpring\Describe\Seen\SeenRequest;
use DeepSpring\Value\Kind\Kind;

/**
 * HTTP Archive 1.2, as browsers export what their network panel recorded. Pages, pictures, scripts
 * and what was only asked beforehand are left out.
 */
final class HarImporter implements Importer
{
    public static function kind(): Kind
    {
        return new Kind('har', 'HAR recording', 'What a browser recorded (HAR 1.2).');
    }

    public function recognises(ImportInput $given): bool
    {
        // Other members, like a comment, may stand before it.
        return preg_match('/^\s*(?:\xEF\xBB\xBF)?\{(?:\s*"(?:comment|_[^"]*|\$schema)"\s*:\s*"(?:[^"\\\\]|\\\\.)*+"\s*,)*+\s*"log"\s*:\s*\{/s', substr($given->text, 0, 20_000)) === 1;
    }

    public function read(ImportInput $given): array
    {
        $har = json_decode((string) preg_replace('/^\xEF\xBB\xBF/', '', $given->text), false, 512, JSON_BIGINT_AS_STRING | JSON_INVALID_UTF8_SUBSTITUTE);
        $entries = is_object($har) ? $har->log->entries ?? null : null;
        if (! is_array($entries)) {
            throw CannotDescribe::because($har === null ? 'This HAR file is not JSON: '.lcfirst(json_last_error_msg()).'.' : 'This HAR file has no log.entries.');
        }
        $requests = [];
        $left = [];
        foreach ($entries as $entry) {
            $request = is_object($entry) ? $this->request($entry) : null;
            $reason = $request === null ? 'no request over HTTP' : $this->isApart($entry, $request);
            if ($request !== null && $reason === null) {
                $requests[] = $request;
            } else {
                $left[$reason] = ($left[$reason] ?? 0) + 1;
            }
        }
        $mends = [];
        foreach ($left as $reason => $count) {
            $mends[] = ImportNotice::leftOut('log.entries', "$count × $reason");
        }
        if ($requests === []) {
            throw CannotDescribe::because('None of the '.count($entries).' recorded requests was answered with data: they are pages, pictures, scripts or styles.');
        }

        return [(new Endpoints($given->bases))->describe('har', '', $requests, $mends)];
    }

    private function request(object $entry): ?SeenRequest
    {
        $asked = $entry->request ?? null;
        if (! is_object($asked) || ! is_string($asked->url ?? null) || preg_match('~^https?://~i', $asked->url) !== 1) {
            return null;
        }
        $headers = [];
        foreach (is_array($asked->headers ?? null) ? $asked->headers : [] as $header) {
            if (is_object($header) && is_string($header->name ?? null) && is_string($header->value ?? null)) {
                $headers[] = [$header->name, $header->value];
            }
        }
        $body = ($asked->postData ?? null) instanceof \stdClass ? $asked->postData : new \stdClass;
        $parts = null;
        $text = is_string($body->text ?? null) ? $body->text : '';
        $type = is_string($body->mimeType ?? null) ? $body->mimeType : '';
        if (stripos($type, 'multipart/form-data') === 0) {
            $params = array_values(array_filter((array) ($body->params ?? []), is_object(...)));
            $parts = $params === [] ? self::parts($type, $text) : array_map(static fn (object $one): FormPart => new FormPart((string) ($one->name ?? ''), isset($one->value) ? (string) $one->value : null, isset($one->fileName), $one->fileName ?? null, $one->contentType ?? null), $params);
        }
        if ($text === '' && $parts === null && is_array($body->params ?? null)) {
            $text = implode('&', array_map(static fn (object $one): string => urlencode((string) ($one->name ?? '')).'='.urlencode((string) ($one->value ?? '')), array_filter($body->params, is_object(...))));
        }

        $headers = self::completed($headers, is_array($asked->cookies ?? null) ? $asked->cookies : [], $text === '' ? '' : $type);

        return new SeenRequest(strtoupper((string) ($asked->method ?? 'GET')), (string) preg_replace('/#.*$/s', '', $asked->url), $headers, null, $text, $parts, [], $this->answer($entry));
    }

    /**
     * With what a recording holds in another place than among the headers.
     *
     * @param  list<array{string, string}>  $headers
     * @param  array<array-key, mixed>  $cookies
     * @return list<array{string, string}>
     */
    private static function completed(array $headers, array $cookies, string $type): array
    {
        $names = array_map(static fn (array $one): string => strtolower($one[0]), $headers);
        $pairs = [];
        foreach (in_array('cookie', $names, true) ? [] : $cookies as $cookie) {
            if (is_object($cookie) && is_string($cookie->name ?? null) && is_string($cookie->value ?? null)) {
                $pairs[] = "$cookie->name=$cookie->value";
            }
        }

        return [...$headers, ...($pairs === [] ? [] : [['Cookie', implode('; ', $pairs)]]), ...($type === '' || in_array('content-type', $names, true) ? [] : [['Content-Type', $type]])];
    }

    /**
     * The parts of a form that was recorded as it went over the wire (RFC 7578).
     *
     * @return list<FormPart>|null null when the text is none
     */
    private static function parts(string $type, string $text): ?array
    {
        if (preg_match('/boundary="?([^";]+)/i', $type, $boundary) !== 1) {
            return null;
        }
        $parts = [];
        foreach (array_slice((array) preg_split('/(?:^|\r?\n)--'.preg_quote(trim($boundary[1]), '/').'(?:--)?[ \t]*(?=\r?\n|$)/', $text), 1) as $part) {
            [$head, $content] = preg_split('/\r?\n\r?\n/', ltrim((string) $part, "\r\n"), 2) + [1 => null];
            $value = static fn (string $regex): ?string => preg_match($regex, (string) $head, $found) === 1 ? strtr($found[1], ['\\"' => '"', '%22' => '"', '\\\\' => '\\']) : null;
            $name = $value('/[; ]name="((?:[^"\\\\]|\\\\.)*)"/i');
            if ($content === null && trim((string) $part) === '') {
                continue;
            }
            if ($name === null || $content === null) {
                // Sent as the text that it is, rather than without one of its parts.
                return null;
            }
            $file = $value('/filename="((?:[^"\\\\]|\\\\.)*)"/i');
            $parts[] = new FormPart($name, $content, $file !== null, $file, $value('/^content-type:[ \t]*([^\r\n]+)/im'));
        }

        return $parts === [] ? null : $parts;
    }

    private function answer(object $entry): mixed
    {
        $content = is_object($entry->response ?? null) ? $entry->response->content ?? null : null;
        if (! is_object($content) || ! is_string($content->text ?? null) || (int) ($entry->response->status ?? 0) >= 400) {
            return null;
        }
        $text = ($content->encoding ?? '') === 'base64' ? (string) base64_decode($content->text, true) : $content->text;
        $answer = json_decode($text, false, 512, JSON_BIGINT_AS_STRING);

        return is_array($answer) || is_object($answer) ? $answer : null;
    }

    /**
     * Why an entry is none of an API.
     */
    private function isApart(object $entry, SeenRequest $request): ?string
    {
        $type = is_object($entry->response ?? null) && is_object($entry->response->content ?? null) ? strtolower((string) ($entry->response->content->mimeType ?? '')) : '';

        return match (true) {
            $request->method === 'OPTIONS' => 'a question of the browser whether it may ask (OPTIONS)',
            $request->answer !== null, str_contains($type, 'json'), str_contains($type, 'xml') && ! str_contains($type, 'svg') && ! str_contains($type, 'html') => null,
            preg_match('~^(?:image|font|audio|video)/|css|javascript|ecmascript|wasm~', $type) === 1 => 'a picture, script, style or font',
            str_contains($type, 'html') => 'a page',
            in_array($request->method, ['POST', 'PUT', 'PATCH', 'DELETE'], true) => null,
            preg_match('~\.(?:js|mjs|css|png|jpe?g|gif|svg|ico|woff2?|map)$~i', $request->path()) === 1 => 'a picture, script, style or font',
            default => $type === '' ? null : 'an answer that is no data ('.$type.')',
        };
    }
}
