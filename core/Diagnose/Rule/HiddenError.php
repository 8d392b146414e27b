<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * A success by its status, and an error or a token by its body.
 */
final readonly class HiddenError implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if (! $situation->isSuccess() || ($situation->records ?? 1) > ($situation->records === null ? 0 : 1) || strlen($situation->body) > 65536) {
            return null;
        }
        $body = json_decode($situation->body, true, 16);
        if (! is_array($body) || array_is_list($body)) {
            return null;
        }
        if (is_string($body['access_token'] ?? null) && (isset($body['token_type']) || isset($body['expires_in']))) {
            return new Diagnosis('token-instead', 'The answer is a token, not data.', 'The path is that of the token endpoint. Set it up under Authentication (OAuth), and give the endpoint the path of the data.', 'ask', Sureness::Certain, ['access_token, '.(isset($body['token_type']) ? 'token_type' : 'expires_in')]);
        }
        $error = $body['error'] ?? $body['errors'] ?? $body['fault'] ?? null;
        $failed = in_array($body['success'] ?? null, [false, 'false', 0], true) || (is_string($body['status'] ?? null) && preg_match('/^(?:error|fail(?:ed|ure)?)$/i', $body['status']) === 1) || ($body['ok'] ?? null) === false;
        if (($error === null || $error === [] || $error === '' || $error === false || $error === 0) && ! $failed) {
            return null;
        }
        $said = ErrorBody::of($situation->body)->sentence;

        return new Diagnosis('200-error', "The service answered {$situation->status}, but its answer is an error".($said === null ? '.' : ": \"$said\""), 'What it says is the cause, whatever the status. Mend that, and try again.', 'ask', Sureness::Likely, $said === null ? [$error !== null ? 'error' : 'success is false'] : [$said]);
    }
}
