<?php

declare(strict_types=1);

namespace App\Local;

/**
 * A certificate and its key, as somebody gives them, put where the web server can read them.
 */
final readonly class ServerCertificate
{
    /**
     * @return array{string, string} the files of both
     *
     * @throws Trouble
     */
    public static function install(string $certificate, string $key, string $folder, Account $account): array
    {
        $texts = [];
        foreach (['certificate' => $certificate, 'key' => $key] as $what => $file) {
            $text = @file_get_contents($file);
            if ($text === false) {
                throw new Trouble("The $what $file cannot be read.");
            }
            $texts[$what] = $text;
        }
        $read = @openssl_x509_read($texts['certificate']);
        if ($read === false) {
            throw new Trouble("$certificate is no certificate in PEM (it begins with -----BEGIN CERTIFICATE-----).");
        }
        $private = @openssl_pkey_get_private($texts['key']);
        if ($private === false) {
            throw new Trouble("$key is no private key in PEM without a passphrase.");
        }
        if (! openssl_x509_check_private_key($read, $private)) {
            throw new Trouble("$key is not the key of $certificate.");
        }
        $ends = (int) (openssl_x509_parse($read)['validTo_time_t'] ?? 0);
        if ($ends < time()) {
            throw new Trouble("$certificate ended on ".gmdate('Y-m-d', $ends).'. Have it renewed.');
        }
        $files = [];
        foreach (['certificate' => 'tls.crt', 'key' => 'tls.key'] as $what => $name) {
            $file = "$folder/$name";
            @unlink($file);
            $old = umask(0077);
            file_put_contents($file, $texts[$what]);
            umask($old);
            $account->own($file);
            $files[] = $file;
        }

        return $files;
    }
}
