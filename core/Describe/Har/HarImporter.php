<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Har;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Curl\FormPart;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Seen\Endpoints;
use DeepSpring\Describe\Seen\SeenRequest;

/**
 * HTTP Archive 1.2, as browsers export what their network panel recorded. Pages, pictures, scripts
 * and what was only asked beforehand are left out.
 */
final class HarImporter implements Importer
{
    public function name(): string
    {
        return 'a HAR recording';
    }

    public function recognises(ImportInput $given): bool
    {
        return preg_match('/^\s*(?:\xEF\xBB\xBF)?\{\s*"log"\s*:\s*\{/', substr($given->text, 0, 200)) === 1;
    }

    public function read(ImportInput $given): Described
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
            if ($request === null) {
                continue;
            }
            $reason = $this->isApart($entry, $request);
            if ($reason === null) {
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

        return (new Endpoints($given->bases))->describe('har', '', $requests, $mends);
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
        $body = is_object($asked->postData ?? null) ? $asked->postData : null;
        $parts = null;
        if ($body !== null && str_starts_with((string) ($body->mimeType ?? ''), 'multipart/form-data')) {
            $parts = array_map(static fn (object $one): FormPart => new FormPart((string) ($one->name ?? ''), isset($one->value) ? (string) $one->value : null, isset($one->fileName), $one->fileName ?? null, $one->contentType ?? null), array_values(array_filter((array) ($body->params ?? []), is_object(...))));
        }
        $text = (string) ($body->text ?? '');
        if ($text === '' && $body !== null && $parts === null && is_array($body->params ?? null)) {
            $text = implode('&', array_map(static fn (object $one): string => urlencode((string) ($one->name ?? '')).'='.urlencode((string) ($one->value ?? '')), array_filter($body->params, is_object(...))));
        }

        return new SeenRequest(strtoupper((string) ($asked->method ?? 'GET')), (string) preg_replace('/#.*$/s', '', $asked->url), $headers, null, $text, $parts, [], $this->answer($entry));
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
