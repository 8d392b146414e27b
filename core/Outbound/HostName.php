<?php

declare(strict_types=1);

namespace DeepSpring\Outbound;

/**
 * A host as it is looked up and connected to: one spelling for all who read it. What one of them would
 * read as another host than the next (percent-encoding, letters beyond ASCII) is settled or refused.
 */
final readonly class HostName
{
    /**
     * @param  string  $host  of a URI, decoded or not
     * @return string in ASCII and small letters; an address as it was
     *
     * @throws UnusableHost
     */
    public static function of(string $host): string
    {
        if (str_contains($host, '[') || str_contains($host, ':')) {
            return $host;
        }
        if (preg_match('/[^\x21-\x7e]/', $host) === 1) {
            // UTS 46, as browsers and curl do it: "bücher" becomes "xn--bcher-kva".
            $ascii = idn_to_ascii($host, IDNA_NONTRANSITIONAL_TO_ASCII | IDNA_CHECK_BIDI, INTL_IDNA_VARIANT_UTS46);
            if ($ascii === false) {
                throw UnusableHost::notAName($host);
            }
            $host = $ascii;
        }
        $host = strtolower($host);
        if (preg_match('/^(?=.{1,254}$)[a-z0-9_](?:[a-z0-9_-]{0,62})(?:\.[a-z0-9_](?:[a-z0-9_-]{0,62}))*\.?$/D', $host) !== 1) {
            throw UnusableHost::notAName($host);
        }

        return $host;
    }
}
