<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * 401 (RFC 9110 §15.5.2), with what WWW-Authenticate says.
 */
final readonly class Unauthorized implements Rule
{
    private const SCHEMES = [
        'basic' => ['scheme' => 'basic', 'username' => ['secret' => 'username'], 'password' => ['secret' => 'password']],
        'bearer' => ['scheme' => 'bearer', 'token' => ['secret' => 'token']],
    ];

    public function explain(Situation $situation): ?Diagnosis
    {
        if ($situation->status !== 401) {
            return null;
        }
        $wanted = $situation->header('www-authenticate');
        $said = ErrorBody::of($situation->body)->sentence ?? '';
        $all = $this->namedHeaders($wanted.' '.$said);
        $missing = array_values(array_filter($all, static fn (string $one): bool => ! in_array(strtolower($one), $situation->accessHeaders, true)));
        $named = $missing[0] ?? null;
        $scheme = preg_match('/^\s*([A-Za-z0-9-]+)/', $wanted, $found) === 1 ? $found[1] : '';
        $evidence = array_values(array_filter([$wanted === '' ? '' : "www-authenticate: $wanted", $said]));
        if (! $situation->hasAccess) {
            return $this->withoutAccess($situation, $named, $scheme, $evidence);
        }
        if ($named !== null) {
            return count($missing) < count($all) ? $this->oneMoreHeader($situation, $named, $evidence) : $this->otherHeader($situation, $named, $evidence);
        }
        if ($scheme !== '' && ! $this->sends($situation, $scheme)) {
            return $this->otherScheme($situation, $scheme, $evidence);
        }
        if (preg_match('/expired|has ended|no longer valid/i', "$wanted $said") === 1) {
            return new Diagnosis('401-expired', 'The service says that your credentials have expired (401).', 'Get new ones from whoever gave them, and replace the secret under Authentication.', 'access', Sureness::Certain, $evidence);
        }

        return new Diagnosis('401-refused', 'The service refused your credentials (401).', ($wanted === '' ? '' : "It answered: $wanted. ").'The value may be mistyped, expired, or belong to another environment. Set it again under Authentication.', 'access', Sureness::Possible, $evidence);
    }

    /**
     * @param  list<string>  $evidence
     */
    private function withoutAccess(Situation $situation, ?string $named, string $scheme, array $evidence): Diagnosis
    {
        $what = 'The service requires authentication (401), and none is set up.';
        if ($named !== null) {
            return new Diagnosis('401-none', $what, "It names the header $named: add a key under Authentication, in a header of that name.", 'access', Sureness::Certain, $evidence, Repair::set("Add a key in $named", ['source', 'access', 0], ['scheme' => 'api-key', 'in' => 'header', 'name' => $named, 'value' => ['secret' => 'key']]));
        }
        $entry = self::SCHEMES[strtolower($scheme)] ?? null;

        return new Diagnosis('401-none', $what, $scheme === '' ? 'Look up in the documentation how requests are authenticated and set it under Authentication.' : "It names the scheme $scheme. Set it under Authentication.", 'access', Sureness::Certain, $evidence, $entry === null ? null : Repair::set("Add $scheme", ['source', 'access', 0], $entry));
    }

    /**
     * @param  list<string>  $evidence
     */
    private function otherHeader(Situation $situation, string $named, array $evidence): Diagnosis
    {
        $repair = null;
        foreach ($situation->access as $number => $entry) {
            if (($entry['scheme'] ?? '') === 'api-key') {
                $repair = new Repair("Send it as $named and test", [['at' => ['source', 'access', $number, 'name'], 'to' => $named], ['at' => ['source', 'access', $number, 'in'], 'to' => 'header']]);
            }
        }

        return new Diagnosis('401-header', "The service did not see your key (401). It names the header $named".($situation->accessHeaders === [] ? '.' : '; you send '.implode(' and ', $situation->accessHeaders).'.'), "Send the key as $named under Authentication.", 'access', Sureness::Certain, $evidence, $repair);
    }

    /**
     * One of the headers is sent, and the service wants another besides: often for the same key.
     *
     * @param  list<string>  $evidence
     */
    private function oneMoreHeader(Situation $situation, string $named, array $evidence): Diagnosis
    {
        $value = null;
        foreach ($situation->access as $entry) {
            $value ??= ($entry['scheme'] ?? '') === 'api-key' ? $entry['value'] : null;
        }

        return new Diagnosis('401-second-header', "The service wants $named too (401). You send ".implode(' and ', $situation->accessHeaders).'.', "Some services read the same key in two headers. Add one named $named under Authentication.", 'access', Sureness::Likely, $evidence, $value === null ? null : Repair::set("Send the key as $named too and test", ['source', 'access', count($situation->access)], ['scheme' => 'api-key', 'in' => 'header', 'name' => $named, 'value' => $value]));
    }

    /**
     * @param  list<string>  $evidence
     */
    private function otherScheme(Situation $situation, string $scheme, array $evidence): Diagnosis
    {
        $place = count($situation->access) - 1;
        $entry = self::SCHEMES[strtolower($scheme)] ?? null;
        $secret = $situation->access[$place]['value'] ?? $situation->access[$place]['token'] ?? null;
        if (strtolower($scheme) === 'bearer' && is_array($secret)) {
            $entry = ['scheme' => 'bearer', 'token' => $secret];
        }

        return new Diagnosis('401-place', "The service did not see your key (401). It asks for $scheme in the Authorization header.", 'Choose that scheme under Authentication, or check the name under which the key is sent.', 'access', Sureness::Likely, $evidence, $entry === null || $place < 0 ? null : Repair::set("Use $scheme and test", ['source', 'access', $place], $entry));
    }

    private function sends(Situation $situation, string $scheme): bool
    {
        if (! in_array('authorization', $situation->accessHeaders, true)) {
            return ! in_array(strtolower($scheme), ['basic', 'bearer', 'digest'], true);
        }
        $kinds = [];
        foreach ($situation->access as $entry) {
            $kinds[] = match ($entry['scheme'] ?? '') {
                'basic' => 'basic',
                'bearer' => strtolower((string) ($entry['prefix'] ?? 'Bearer')),
                'api-key' => strtolower(trim((string) ($entry['prefix'] ?? ''))),
                default => 'bearer',
            };
        }

        return $kinds === [] || ! isset(self::SCHEMES[strtolower($scheme)]) || in_array(strtolower($scheme), $kinds, true);
    }

    /**
     * Headers for the key that the challenge or the error names.
     *
     * @return list<string>
     */
    private function namedHeaders(string $said): array
    {
        preg_match_all('/\bheader\s*=\s*"?([A-Za-z0-9-]+)|\b(X-[A-Za-z0-9-]+)\b/i', $said, $found);
        $names = [];
        foreach (array_filter([...$found[1], ...$found[2]]) as $name) {
            $names[strtolower($name)] ??= $name;
        }

        return array_values($names);
    }
}
