<?php

declare(strict_types=1);

namespace Tests\Core\Access;

/**
 * Key pairs as PEM, made anew.
 */
final class Keys
{
    /**
     * @return array{string, string} private and public
     */
    public static function pair(string $algorithm): array
    {
        if ($algorithm === 'EdDSA') {
            $pair = sodium_crypto_sign_keypair();
            $wrap = static fn (string $kind, string $der): string => "-----BEGIN $kind KEY-----\n".chunk_split(base64_encode($der), 64, "\n")."-----END $kind KEY-----\n";

            return [$wrap('PRIVATE', hex2bin('302e020100300506032b657004220420').substr(sodium_crypto_sign_secretkey($pair), 0, 32)), $wrap('PUBLIC', hex2bin('302a300506032b6570032100').sodium_crypto_sign_publickey($pair))];
        }
        $key = openssl_pkey_new($algorithm === 'RS256' ? ['private_key_type' => OPENSSL_KEYTYPE_RSA, 'private_key_bits' => 2048] : ['private_key_type' => OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1']);
        if ($key === false) {
            throw new \RuntimeException('No key can be made.');
        }
        openssl_pkey_export($key, $private);

        return [$private, (string) (openssl_pkey_get_details($key)['key'] ?? '')];
    }
}
