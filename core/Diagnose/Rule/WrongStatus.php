<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;

/**
 * Any other status that is not a success (RFC 9110 §15), with what the service itself says of it.
 */
final readonly class WrongStatus implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $status = $situation->status;
        if ($status === null || in_array($status, $situation->ok, true)) {
            return null;
        }
        $said = self::said($situation->body);
        $said = $said === null ? '' : " It says: \"$said\"";
        $path = (string) parse_url($situation->uri, PHP_URL_PATH);
        $again = isset($situation->headers['retry-after']) ? " It asks to wait {$situation->headers['retry-after']}".(ctype_digit($situation->headers['retry-after']) ? ' s.' : '.') : '';

        return match (true) {
            $status === 400, $status === 422 => new Diagnosis("$status", "The service did not accept the request ($status).$said", 'Compare the inputs with the documentation: names, formats, and which are required.', 'ask'),
            $status === 403 => new Diagnosis('403', "The service knows who is asking, but does not allow this (403).$said", 'The account or key lacks a right. Whoever gave it can add one.', 'access'),
            $status === 404, $status === 410 => new Diagnosis("$status", "There is nothing at $path ($status).$said", 'Compare the whole path with the documentation: a doubled or missing part, a version, a slash at the end, an id that does not exist.', 'ask'),
            $status === 405 => new Diagnosis('405', "$path does not take {$situation->method} (405).$said", isset($situation->headers['allow']) ? "It takes {$situation->headers['allow']}." : 'Check the method in the documentation.', 'ask'),
            $status === 406 => new Diagnosis('406', "The service cannot answer in the format asked for (406).$said", 'Check the accept header.', 'ask'),
            $status === 429 => new Diagnosis('429', "Too many requests for the service (429).$said", ltrim("$again Slow down and try later."), 'ask'),
            $status === 503 => new Diagnosis('503', "The service is not available now (503).$said", ltrim("$again Try later."), 'address'),
            $status >= 500 => new Diagnosis("$status", "The service itself failed ($status).$said", 'Nothing in the request need be wrong. Try again; if it stays, tell the owner of the service.', 'address'),
            $status === 204 => new Diagnosis('204', 'The service answered that there is nothing to send (204).', 'If that is right here, add 204 to the status codes that are a success.', 'answer'),
            default => new Diagnosis("$status", "The service answered $status, which is not one of ".implode(', ', $situation->ok).".$said", 'If this status is a success, add it to those of Answer.', 'answer'),
        };
    }

    /**
     * The sentence in an error body: RFC 9457 problem details, or the members most APIs use.
     */
    public static function said(string $body): ?string
    {
        $error = json_decode($body, true, 32);
        if (! is_array($error)) {
            return null;
        }
        foreach ([['detail'], ['message'], ['error', 'message'], ['error_description'], ['errors', 0, 'detail'], ['errors', 0, 'message'], ['title'], ['error']] as $path) {
            $value = $error;
            foreach ($path as $step) {
                $value = is_array($value) ? $value[$step] ?? null : null;
            }
            if (is_string($value) && $value !== '') {
                return mb_strimwidth($value, 0, 300, '…', 'UTF-8');
            }
        }

        return null;
    }
}
