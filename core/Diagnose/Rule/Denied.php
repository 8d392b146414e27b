<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * 403 (RFC 9110 §15.5.4): by scope (RFC 6750 §3.1), by network address, by role, by a missing
 * token against forged requests.
 */
final readonly class Denied implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if ($situation->status !== 403) {
            return null;
        }
        $wanted = $situation->header('www-authenticate');
        $said = ErrorBody::of($situation->body)->sentence ?? '';
        $evidence = array_values(array_filter([$wanted === '' ? '' : "www-authenticate: $wanted", $said]));
        $what = 'Authenticated, but this is not allowed (403).'.$situation->said();
        foreach ($situation->headers as $name => $value) {
            if (preg_match('/csrf|xsrf/', $name) === 1 && strcasecmp($value, 'required') === 0) {
                return new Diagnosis('403-csrf', "The service takes writes only with a token against forged requests, in $name (403).", 'Add a CSRF token under Authentication: it is fetched before every write.', 'access', Sureness::Certain, ["$name: $value"], Repair::set('Add a CSRF token', ['source', 'access', count($situation->access)], ['scheme' => 'csrf-token', 'fetch' => ['path' => '/'], 'header' => ucwords($name, '-')]));
            }
        }
        if (preg_match('/insufficient_scope/i', "$wanted {$situation->body}") === 1 || preg_match('/\bscopes?\b/i', $said) === 1) {
            return $this->scope($situation, "$wanted $said", $evidence, $what);
        }
        if (preg_match('/\b(?:your |client |source )?IP\b|address .*(?:not|isn.t) (?:allowed|permitted)|allow-?list|whitelist/i', $said.' '.mb_substr($situation->body, 0, 2000)) === 1) {
            return new Diagnosis('403-ip', "The service does not answer to this network address (403).{$situation->said()}", 'Ask its owner to allow the address that requests from this server come from.', 'access', Sureness::Likely, $evidence);
        }
        if (preg_match('/\b(role|permission|privilege|right|licen[cs]e|plan|subscription)s?\b/i', $said) === 1) {
            return new Diagnosis('403-role', $what, 'The account lacks a role or a right. Whoever gave it can add one.', 'access', Sureness::Likely, $evidence);
        }

        return new Diagnosis('403', $what, 'The account or key lacks a right. Whoever gave it can add one.', 'access', Sureness::General, $evidence);
    }

    /**
     * @param  list<string>  $evidence
     */
    private function scope(Situation $situation, string $said, array $evidence, string $what): Diagnosis
    {
        $needed = preg_match('/scope\s*=\s*"?([\w.:\/ -]+)/i', $said, $part) === 1 || preg_match('/scope[s]?[^\w]+([\w]+[.:][\w.:\/-]+)/i', $said, $part) === 1 || preg_match('/([\w]+[.:][\w.:\/-]+)/', $said, $part) === 1 ? trim($part[1], ' ".') : null;
        foreach ($situation->access as $number => $entry) {
            if ($needed !== null && str_starts_with((string) ($entry['scheme'] ?? ''), 'oauth2') && ! in_array($needed, explode(' ', (string) ($entry['scope'] ?? '')), true)) {
                $scope = trim(($entry['scope'] ?? '').' '.$needed);

                return new Diagnosis('403-scope', "The token lacks the scope $needed (403).{$situation->said()}", 'You ask for: '.(($entry['scope'] ?? '') === '' ? 'no scope' : $entry['scope']).'. Ask for this one too; the service may have to allow it first.', 'access', Sureness::Certain, $evidence, Repair::set("Ask for $scope and test", ['source', 'access', $number, 'scope'], $scope));
            }
        }

        return new Diagnosis('403-scope', $needed === null ? $what : "The token lacks the scope $needed (403).{$situation->said()}", 'Whoever gave the token or registered the application can add the scope.', 'access', Sureness::Likely, $evidence);
    }
}
