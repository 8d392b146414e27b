<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Ask\SendFailure;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * A connection that is closed right after TLS was set up: in TLS 1.3 a server says only then that
 * it wants a certificate (RFC 8446 §4.4.2.4), and some just hang up.
 */
final readonly class ClosedDuringTls implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $hasCertificate = in_array('client-certificate', array_column($situation->access, 'scheme'), true);
        if ($situation->failing !== SendFailure::Cut || ! str_starts_with($situation->uri, 'https:') || preg_match('/reset by peer|unexpected eof|SSL_read|SSL_write|Empty reply/i', $situation->detail) !== 1) {
            return null;
        }

        return new Diagnosis('tls-client', $hasCertificate ? "{$situation->authority()} may not have accepted the client certificate." : "{$situation->authority()} may want a certificate from whoever connects.", $hasCertificate ? 'Compare it with the one that is registered there.' : 'If the documentation speaks of mutual TLS, add a client certificate under Authentication.', 'access', Sureness::Possible, [$situation->detail]);
    }
}
