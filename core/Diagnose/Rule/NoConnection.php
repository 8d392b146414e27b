<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Ask\SendFailure;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;
use DeepSpring\Value\NearestName;

/**
 * Nothing came back at all.
 */
final readonly class NoConnection implements Rule
{
    /** Ends of names that are typed for others. */
    private const SLIPS = ['.con' => '.com', '.cmo' => '.com', '.ocm' => '.com', '.vom' => '.com', '.ent' => '.net', '.nte' => '.net', '.ogr' => '.org', '.rog' => '.org', '.exmaple' => '.example', '.examle' => '.example', '.exampel' => '.example'];

    public function explain(Situation $situation): ?Diagnosis
    {
        if ($situation->hops !== [] && $situation->failing !== null) {
            // What failed is where the last redirect led.
            $situation = $situation->at($situation->hops[count($situation->hops) - 1]['to']);
        }
        $authority = $situation->authority();
        $evidence = $situation->detail === '' ? [] : [$situation->detail];

        return match ($situation->failing) {
            SendFailure::Forbidden => new Diagnosis('outbound', "Requests from here may not go to $authority: {$situation->detail}", 'Nothing was sent. If the API really stands there, an administrator can allow exactly this host and port under Outbound, or with ./spring allow '.$situation->endpoint().'.', 'address', Sureness::Certain, [$situation->endpoint()]),
            SendFailure::Name => $this->name($situation, $evidence),
            SendFailure::Refused => new Diagnosis('refused', "$authority refused the connection.", 'The host exists, but nothing listens on that port. Check the port in the base address, and whether the service is running.', 'address', Sureness::Certain, $evidence),
            SendFailure::ConnectTimeout => new Diagnosis('connect-timeout', "$authority did not answer the attempt to connect.".($situation->detail === '' ? '' : " The time ran out while {$situation->detail}."), 'A firewall may stand between, or the host is down.', 'address', Sureness::Likely, $evidence),
            SendFailure::AnswerTimeout => new Diagnosis('timeout', "$authority did not finish its answer within {$situation->timeout} s. The time ran out while ".($situation->detail ?: 'waiting').'.', 'The connection stood, so it is the service that took too long. Ask for less at a time, with a smaller page or a filter, or allow more time (pace.timeout in the source file).', 'ask', Sureness::Certain, $evidence),
            SendFailure::Tls => $this->tls($situation, $evidence),
            SendFailure::TooLarge => new Diagnosis('too-large', "The answer is larger than what is read here ({$situation->detail}).", 'Ask for it in pages, with fewer records each.', 'onward', Sureness::Certain),
            SendFailure::Cut => new Diagnosis('cut', "$authority closed the connection in the middle of the answer.", 'What came until then is not used. If it happens again, ask for less at a time.', 'ask', Sureness::Certain, $evidence),
            SendFailure::Stopped => new Diagnosis('stopped', "You stopped it, while {$situation->detail}.", 'The service may still have done what was asked.', 'ask', Sureness::Certain),
            SendFailure::Other => new Diagnosis('transport', "The request to $authority failed: {$situation->detail}", 'See the raw error below.', 'address', Sureness::General),
            null => null,
        };
    }

    /**
     * @param  list<string>  $evidence
     */
    private function name(Situation $situation, array $evidence): Diagnosis
    {
        $host = $situation->host();
        $known = array_values(array_filter(array_map(static fn (string $base): string => (string) parse_url($base, PHP_URL_HOST), $situation->bases), static fn (string $one): bool => $one !== '' && $one !== $host));
        $meant = null;
        foreach (self::SLIPS as $slip => $right) {
            $meant ??= str_ends_with($host, $slip) ? substr($host, 0, -strlen($slip)).$right : null;
        }
        $meant ??= NearestName::to($host, $known, 0.15);
        $what = "No server is known under the name $host.";
        if ($meant === null) {
            return new Diagnosis('dns', $what, 'Compare the host in the base address with the documentation, letter by letter. A name that only works inside a company network cannot be reached from here.', 'address', Sureness::Certain, $evidence);
        }

        return new Diagnosis('dns-typo', "$what Did you mean $meant?", 'The two differ by a slip of the fingers.', 'address', Sureness::Likely, $evidence, Repair::set("Use $meant and test", $situation->baseAt(), str_replace("//$host", "//$meant", $situation->base())));
    }

    /**
     * @param  list<string>  $evidence
     */
    private function tls(Situation $situation, array $evidence): Diagnosis
    {
        $detail = $situation->detail;
        $authority = $situation->authority();
        $plain = preg_replace('~^https:~', 'http:', $situation->base());

        return match (true) {
            str_contains($detail, 'wrong version number'), str_contains($detail, 'packet length too long'), str_contains($detail, 'record layer failure') => new Diagnosis('tls-plain', "$authority does not speak TLS on this port.", 'Use http:// in the base address, or the port on which the service offers https.', 'address', Sureness::Certain, $evidence, $situation->base() === '' ? null : Repair::set("Use $plain and test", $situation->baseAt(), $plain)),
            str_contains($detail, 'expired') => new Diagnosis('tls-expired', "The certificate of $authority has expired.", 'The owner of the service has to renew it. Nothing was sent.', 'address', Sureness::Certain, $evidence),
            str_contains($detail, 'self') && str_contains($detail, 'signed') => new Diagnosis('tls-self-signed', "The certificate of $authority is signed by nobody this server knows.", 'It is self-signed, or an authority of its own signed it. Nothing was sent.', 'address', Sureness::Certain, $evidence),
            str_contains($detail, 'does not match'), str_contains($detail, 'no alternative certificate subject name') => new Diagnosis('tls-name', "The certificate of $authority is for another name.", 'The base address probably uses another name for the service than its certificate. Nothing was sent.', 'address', Sureness::Certain, $evidence),
            preg_match('/certificate required|bad certificate|sslv3 alert handshake failure|tlsv13 alert/i', $detail) === 1 => new Diagnosis('tls-client', "$authority wants a certificate from whoever connects.", 'Add a client certificate under Authentication, or replace the one that is set: it was not accepted.', 'access', Sureness::Likely, $evidence),
            default => new Diagnosis('tls', "No secure connection to $authority could be made.", 'Nothing was sent. The raw error below says what TLS objected to.', 'address', Sureness::General, $evidence),
        };
    }
}
