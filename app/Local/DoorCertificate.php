<?php

declare(strict_types=1);

namespace App\Local;

/**
 * The certificate with which the database shows tools that they reached it: made here, once, and given to whoever is
 * given an account, to be checked against.
 */
final readonly class DoorCertificate
{
    private const DAYS = 3650;

    private const CONFIG = <<<'TEXT'
        [req]
        distinguished_name = name
        [name]
        [own]
        basicConstraints = critical, CA:TRUE
        keyUsage = critical, digitalSignature, keyEncipherment, keyCertSign
        subjectAltName = NAMES
        TEXT;

    /**
     * @param  list<string>  $addresses  under which the database is reached
     * @return array{string, string} files of the certificate and of its key
     *
     * @throws Trouble
     */
    public static function make(string $folder, array $addresses, Account $account): array
    {
        $files = ["$folder/door.crt", "$folder/door.key"];
        $names = implode(',', array_map(static fn (string $address): string => "IP:$address", array_unique(['127.0.0.1', ...$addresses])));
        if (is_file($files[0]) && is_file($files[1]) && self::names((string) file_get_contents($files[0])) === $names) {
            return $files;
        }
        $config = (string) tempnam(sys_get_temp_dir(), 'door');
        file_put_contents($config, str_replace('NAMES', $names, self::CONFIG));
        try {
            $options = ['config' => $config, 'private_key_type' => OPENSSL_KEYTYPE_RSA, 'private_key_bits' => 3072, 'digest_alg' => 'sha256', 'x509_extensions' => 'own'];
            $key = openssl_pkey_new($options);
            $request = openssl_csr_new(['commonName' => 'Deep Spring, door for tools'], $key, $options);
            $certificate = ! $request instanceof \OpenSSLCertificateSigningRequest ? false : openssl_csr_sign($request, null, $key, self::DAYS, $options, random_int(1, PHP_INT_MAX));
            if ($certificate === false || ! openssl_x509_export($certificate, $public) || ! openssl_pkey_export($key, $private, null, $options)) {
                throw new Trouble('No certificate could be made for the door: '.(openssl_error_string() ?: 'OpenSSL says nothing').'.');
            }
        } finally {
            unlink($config);
        }
        foreach ([[$files[0], (string) $public, 0644], [$files[1], (string) $private, 0600]] as [$file, $text, $mode]) {
            @unlink($file);
            $old = umask(0077);
            file_put_contents($file, $text);
            umask($old);
            chmod($file, $mode);
            $account->own($file);
        }

        return $files;
    }

    private static function names(string $certificate): string
    {
        $read = openssl_x509_parse($certificate);

        return is_array($read) && ($read['validTo_time_t'] ?? 0) > time() ? str_replace(['IP Address:', ', '], ['IP:', ','], (string) ($read['extensions']['subjectAltName'] ?? '')) : '';
    }
}
