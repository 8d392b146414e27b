<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\AccessScheme;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\SchemeSettings;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\Access\Value;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use Firebase\JWT\JWT;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\RequestInterface;

/**
 * RFC 7523 §2.1: a signed statement of who is asking takes the place of a secret.
 */
final readonly class JwtAssertion extends BearerScheme implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('jwt-assertion', 'JWT bearer assertion', 'A signed statement is exchanged for a token (RFC 7523).', [
            SchemeSettings::tokenUrl(),
            new Field('issuer', FieldType::Value, 'issuer', 'The claim iss.', true, start: 'your client ID'),
            SchemeSettings::value('subject', 'subject', 'The claim sub; the issuer without it.', false, example: 'the issuer'),
            SchemeSettings::audience('the token URL'),
            SchemeSettings::scope(),
            new Field('algorithm', FieldType::Choice, 'algorithm', 'What it is signed with.', true, choices: ['RS256' => 'RS256', 'ES256' => 'ES256', 'EdDSA' => 'EdDSA'], start: 'RS256'),
            new Field('key_id', FieldType::Text, 'key ID', 'The header kid.'),
            new Field('lifetime', FieldType::Count, 'lifetime (seconds)', 'Of the assertion.', example: '300', shape: ['type' => 'integer', 'minimum' => 30, 'maximum' => 3600]),
            SchemeSettings::secret('key', 'private key', 'The private key in PEM form.', 'private_key'),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry);
    }

    private const GRANT = 'urn:ietf:params:oauth:grant-type:jwt-bearer';

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        $issuer = Value::of($this->entry['issuer'])->reveal($secrets);
        $claims = array_filter([
            'iss' => $issuer, 'sub' => isset($this->entry['subject']) ? Value::of($this->entry['subject'])->reveal($secrets) : $issuer,
            'aud' => $this->entry['audience'] ?? $this->entry['token_url'], 'iat' => $now, 'exp' => $now + ($this->entry['lifetime'] ?? 300),
            'jti' => substr(hash('sha256', "$issuer $now ".($old->obtainedAt ?? 0)), 0, 32), 'scope' => $this->entry['scope'] ?? null,
        ], static fn (mixed $claim): bool => $claim !== null);
        try {
            $assertion = JWT::encode($claims, $this->key($secrets), $this->entry['algorithm'], $this->entry['key_id'] ?? null);
        } catch (\Exception) {
            throw UnusableSecret::asKey($this->entry['algorithm']);
        }

        return new Request('POST', $this->entry['token_url'], ['accept' => 'application/json', 'content-type' => 'application/x-www-form-urlencoded'], http_build_query(array_filter(['grant_type' => self::GRANT, 'assertion' => $assertion, 'scope' => $this->entry['scope'] ?? null], static fn (?string $one): bool => $one !== null), '', '&'));
    }

    public function sensitive(Secrets $secrets): array
    {
        return [$this->pem($secrets), ...array_filter(explode("\n", $this->pem($secrets)), static fn (string $line): bool => strlen($line) > 20)];
    }

    public function secretNames(): array
    {
        $names = [];
        foreach (['key', 'issuer', 'subject'] as $field) {
            array_push($names, ...(isset($this->entry[$field]) ? Value::of($this->entry[$field])->secretNames() : []));
        }

        return $names;
    }

    public function label(): string
    {
        return 'signed assertion (JWT)';
    }

    private function pem(Secrets $secrets): string
    {
        return trim(str_replace(["\r\n", '\n'], "\n", Value::of($this->entry['key'])->reveal($secrets)));
    }

    /**
     * @throws UnusableSecret
     */
    private function key(Secrets $secrets): \OpenSSLAsymmetricKey|string
    {
        $pem = $this->pem($secrets);
        $algorithm = $this->entry['algorithm'];
        if ($algorithm === 'EdDSA') {
            return $this->edwards($pem);
        }
        $key = @openssl_pkey_get_private($pem);
        $type = $key === false ? null : openssl_pkey_get_details($key)['type'] ?? null;
        $right = ['RS256' => OPENSSL_KEYTYPE_RSA, 'ES256' => OPENSSL_KEYTYPE_EC][$algorithm] ?? null;

        return $key === false || $type !== $right ? throw UnusableSecret::asKey($algorithm) : $key;
    }

    /**
     * The 32 bytes of an Ed25519 key in PKCS #8 (RFC 8410 §7) → what libsodium signs with, in Base64.
     */
    private function edwards(#[\SensitiveParameter] string $pem): string
    {
        $der = base64_decode((string) preg_replace('/-----[^-]+-----|\s/', '', $pem), true);
        $prefix = hex2bin('302e020100300506032b657004220420');
        if ($der === false || strlen($der) !== 48 || ! str_starts_with($der, (string) $prefix)) {
            throw UnusableSecret::asKey('EdDSA');
        }

        return base64_encode(sodium_crypto_sign_secretkey(sodium_crypto_sign_seed_keypair(substr($der, 16, 32) ?: throw UnusableSecret::asKey('EdDSA'))));
    }
}
