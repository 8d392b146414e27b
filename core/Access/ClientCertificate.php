<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * Mutual TLS (RFC 8446 §4.4.2): the certificate is shown while the connection is made.
 */
final readonly class ClientCertificate implements AccessScheme, SecuresConnection
{
    public static function kind(): Kind
    {
        return new Kind('client-certificate', 'Client certificate', 'Mutual TLS (RFC 8446 §4.4.2).', [
            SchemeSettings::secret('certificate', 'certificate', 'The certificate in PEM form.'),
            SchemeSettings::secret('key', 'key', 'Its private key in PEM form.', 'certificate_key'),
            SchemeSettings::secret('passphrase', 'passphrase', 'Of the private key.', isRequired: false),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self(Value::of($entry['certificate']), Value::of($entry['key']), isset($entry['passphrase']) ? Value::of($entry['passphrase']) : null);
    }

    public function __construct(private Value $certificate, private Value $key, private ?Value $passphrase)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request;
    }

    public function certificate(Secrets $secrets): Certificate
    {
        $certificate = $this->pem($this->certificate, $secrets);
        $key = $this->pem($this->key, $secrets);
        $passphrase = (string) $this->passphrase?->reveal($secrets);
        if (@openssl_x509_read($certificate) === false) {
            throw UnusableSecret::asCertificate('The client certificate is no certificate in PEM form (-----BEGIN CERTIFICATE-----).');
        }
        $private = @openssl_pkey_get_private($key, $passphrase);
        if ($private === false) {
            throw UnusableSecret::asCertificate('The key of the client certificate is none in PEM form, or the passphrase is wrong.');
        }
        if (! @openssl_x509_check_private_key($certificate, $private)) {
            throw UnusableSecret::asCertificate('The client certificate and its key do not belong together.');
        }

        return new Certificate($certificate, $key, $passphrase);
    }

    public function sensitive(Secrets $secrets): array
    {
        $key = $this->pem($this->key, $secrets);

        return [$key, ...array_filter(explode("\n", $key), static fn (string $line): bool => strlen($line) > 20), (string) $this->passphrase?->reveal($secrets)];
    }

    public function secretNames(): array
    {
        return [...$this->certificate->secretNames(), ...$this->key->secretNames(), ...($this->passphrase?->secretNames() ?? [])];
    }

    public function label(): string
    {
        return 'client certificate';
    }

    public function header(): ?string
    {
        return null;
    }

    private function pem(Value $value, Secrets $secrets): string
    {
        return trim(str_replace(["\r\n", '\n'], "\n", $value->reveal($secrets)))."\n";
    }
}
