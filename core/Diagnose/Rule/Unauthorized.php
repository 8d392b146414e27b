<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;

/**
 * 401 (RFC 9110 §15.5.2), with what WWW-Authenticate says.
 */
final readonly class Unauthorized implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if ($situation->status !== 401) {
            return null;
        }
        $wanted = $situation->headers['www-authenticate'] ?? '';
        $scheme = preg_match('/^\s*([A-Za-z0-9-]+)/', $wanted, $found) === 1 ? $found[1] : '';
        $named = $this->namedHeader($wanted.' '.WrongStatus::said($situation->body));
        if (! $situation->hasAccess && $named !== null) {
            return new Diagnosis('401-none', 'The service wants to know who is asking (401), and no access is set.', "It names the header $named: add a key under Who is asking, in a header of that name.", 'access');
        }
        if (! $situation->hasAccess) {
            return new Diagnosis('401-none', 'The service wants to know who is asking (401), and no access is set.', $scheme === '' ? 'Look up in the documentation how requests are authenticated and set it under Who is asking.' : "It names the scheme $scheme. Set it under Who is asking.", 'access');
        }
        if ($named !== null && ! in_array(strtolower($named), $situation->accessHeaders, true)) {
            return new Diagnosis('401-header', "The service did not see your key (401). It names the header $named".($situation->accessHeaders === [] ? '.' : '; you send '.implode(' and ', $situation->accessHeaders).'.'), "Send the key as $named under Who is asking.", 'access');
        }
        $sentInOther = ! in_array('authorization', $situation->accessHeaders, true);
        if ($scheme !== '' && $sentInOther) {
            return new Diagnosis('401-place', "The service did not see your key (401). It asks for $scheme in the Authorization header.", 'Choose that scheme under Who is asking, or check the name under which the key is sent.', 'access');
        }

        return new Diagnosis('401-refused', 'The service refused your credentials (401).', ($wanted === '' ? '' : "It answered: $wanted. ").'The value may be mistyped, expired, or belong to another environment. Set it again under Who is asking.', 'access');
    }

    /**
     * A header for the key that the challenge or the error names.
     */
    private function namedHeader(string $said): ?string
    {
        return preg_match('/\bheader\s*=\s*"?([A-Za-z0-9-]+)/i', $said, $found) === 1 || preg_match('/\b(X-[A-Za-z0-9-]+)\b/', $said, $found) === 1 ? $found[1] : null;
    }
}
