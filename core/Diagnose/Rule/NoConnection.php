<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Failing;
use DeepSpring\Diagnose\Situation;

/**
 * Nothing came back at all.
 */
final readonly class NoConnection implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $host = $situation->host();
        $authority = $situation->authority();

        return match ($situation->failing) {
            Failing::Name => new Diagnosis('dns', "No server is known under the name $host.", 'Compare the host in the base address with the documentation, letter by letter. A name that only works inside a company network cannot be reached from here.', 'address'),
            Failing::Refused => new Diagnosis('refused', "$authority refused the connection.", 'The host exists, but nothing listens on that port. Check the port in the base address, and whether the service is running.', 'address'),
            Failing::ConnectTimeout => new Diagnosis('connect-timeout', "$authority did not answer the attempt to connect.", 'A firewall may stand between, or the host is down.', 'address'),
            Failing::AnswerTimeout => new Diagnosis('timeout', "$authority did not finish its answer within {$situation->timeout} s.", 'Ask for less at a time, with a smaller page or a filter, or allow more time (pace.timeout in the source file).', 'ask'),
            Failing::Tls => $this->tls($situation),
            Failing::TooLarge => new Diagnosis('too-large', "The answer is larger than what is read here ({$situation->detail}).", 'Ask for it in pages, with fewer records each.', 'onward'),
            Failing::Cut => new Diagnosis('cut', "$authority closed the connection in the middle of the answer.", 'What came until then is not used. If it happens again, ask for less at a time.', 'ask'),
            Failing::Other => new Diagnosis('transport', "The request to $authority failed: {$situation->detail}", 'See the raw error below.', 'address'),
            null => null,
        };
    }

    private function tls(Situation $situation): Diagnosis
    {
        $detail = $situation->detail;
        $authority = $situation->authority();

        return match (true) {
            str_contains($detail, 'wrong version number'), str_contains($detail, 'packet length too long') => new Diagnosis('tls-plain', "$authority does not speak TLS on this port.", 'Use http:// in the base address, or the port on which the service offers https.', 'address'),
            str_contains($detail, 'expired') => new Diagnosis('tls-expired', "The certificate of $authority has expired.", 'The owner of the service has to renew it. Nothing was sent.', 'address'),
            str_contains($detail, 'self') && str_contains($detail, 'signed') => new Diagnosis('tls-self-signed', "The certificate of $authority is signed by nobody this server knows.", 'It is self-signed, or an authority of its own signed it. Nothing was sent.', 'address'),
            str_contains($detail, 'does not match'), str_contains($detail, 'no alternative certificate subject name') => new Diagnosis('tls-name', "The certificate of $authority is for another name.", 'The base address probably uses another name for the service than its certificate. Nothing was sent.', 'address'),
            default => new Diagnosis('tls', "No secure connection to $authority could be made.", 'Nothing was sent. The raw error below says what TLS objected to.', 'address'),
        };
    }
}
