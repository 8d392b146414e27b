<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * A redirect (RFC 9110 §15.4) to another origin: not followed with credentials, and followed
 * without them by a test; or one that would turn a write into a read.
 */
final readonly class Redirected implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $hops = $situation->hops;
        $status = $situation->status ?? 0;
        $location = $situation->header('location');
        if ($status >= 300 && $status < 400 && $status !== 304 && $location !== '') {
            $hops[] = ['status' => $status, 'to' => $location];
        }
        if ($hops === []) {
            return null;
        }
        $to = $this->bare($hops[count($hops) - 1]['to']);
        $evidence = array_map(fn (array $hop): string => "{$hop['status']} to {$this->bare($hop['to'])}", $hops);
        if ($situation->method !== 'GET' && $situation->method !== 'HEAD' && in_array($hops[0]['status'], [301, 302, 303], true)) {
            return new Diagnosis('redirect-method', "{$situation->authority()} answers a {$situation->method} with a redirect to $to ({$hops[0]['status']}).", 'Followed, it would become a GET and change nothing, so it was not. Send the request to that address itself.', 'ask', Sureness::Certain, $evidence, $this->repair($situation, $to));
        }
        if (! str_starts_with($to, 'http') || $this->origin($to) === $this->origin($situation->uri) && $situation->hops === []) {
            return null;
        }
        if ($this->origin($to) === $this->origin($situation->bases[$situation->environment] ?? $situation->uri)) {
            return null;
        }
        if (preg_match('~/(?:sign-?in|login|sso|oauth2?/authorize|auth)\b~i', $to) === 1) {
            return new Diagnosis('redirect-sign-in', "{$situation->authority()} sends you on to a sign-in page, $to.", 'It does not take the request for one of an API. Check the base address: APIs often live under another path than the website, and how requests are authenticated.', 'address', Sureness::Likely, $evidence);
        }
        $steps = count($hops) === 1 ? '' : ' in '.count($hops).' steps';

        return new Diagnosis('redirect', "{$situation->authority()} sends you on to $to$steps.", 'Credentials are not carried to another origin. If that address is the same service, use it as the base address.', 'address', Sureness::Certain, $evidence, $this->repair($situation, $to));
    }

    /**
     * The base address that would have led there at once.
     */
    private function repair(Situation $situation, string $to): ?Repair
    {
        $base = $situation->base();
        $rest = substr($situation->path(), strlen((string) parse_url($base, PHP_URL_PATH)));
        if ($base === '' || ! str_starts_with($to, 'http')) {
            return null;
        }
        $new = rtrim($rest !== '' && $rest !== '/' && str_ends_with($to, $rest) ? substr($to, 0, -strlen($rest)) : $to, '/');

        return $new === $base ? null : Repair::set("Use $new and test", $situation->baseAt(), $new);
    }

    private function bare(string $uri): string
    {
        return (string) preg_replace('~[?#].*$~s', '', $uri);
    }

    private function origin(string $uri): string
    {
        return strtolower(parse_url($uri, PHP_URL_SCHEME).'://'.parse_url($uri, PHP_URL_HOST).':'.(parse_url($uri, PHP_URL_PORT) ?: (str_starts_with($uri, 'http:') ? 80 : 443)));
    }
}
