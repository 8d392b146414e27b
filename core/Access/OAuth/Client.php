<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\Secrets;
use DeepSpring\Access\Value;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\RequestInterface;

/**
 * Who asks a token endpoint, and where it says so (RFC 6749 §2.3.1): in the Authorization header,
 * form-encoded before Base64 as the RFC has it, or in the body.
 */
final readonly class Client
{
    public function __construct(public string $tokenUrl, public Value $id, public ?Value $secret, public bool $inHeader = true)
    {
    }

    /**
     * @param  array<string, mixed>  $entry  of a source file
     */
    public static function of(array $entry): self
    {
        return new self($entry['token_url'], Value::of($entry['client_id']), isset($entry['client_secret']) ? Value::of($entry['client_secret']) : null, ($entry['credentials_in'] ?? 'header') === 'header');
    }

    /**
     * @param  array<string, string|null>  $parameters
     */
    public function request(array $parameters, Secrets $secrets): RequestInterface
    {
        $headers = ['accept' => 'application/json', 'content-type' => 'application/x-www-form-urlencoded'];
        $id = $this->id->reveal($secrets);
        if ($this->secret === null) {
            $parameters['client_id'] = $id;
        } elseif ($this->inHeader) {
            $headers['authorization'] = 'Basic '.$this->credentials($secrets);
        } else {
            $parameters += ['client_id' => $id, 'client_secret' => $this->secret->reveal($secrets)];
        }

        return new Request('POST', $this->tokenUrl, $headers, http_build_query(array_filter($parameters, static fn (?string $one): bool => $one !== null && $one !== ''), '', '&'));
    }

    /**
     * @return list<string>
     */
    public function sensitive(Secrets $secrets): array
    {
        if ($this->secret === null) {
            return $this->id->secret ? [$this->id->reveal($secrets)] : [];
        }

        return [$this->secret->reveal($secrets), urlencode($this->secret->reveal($secrets)), $this->credentials($secrets), ...($this->id->secret ? [$this->id->reveal($secrets)] : [])];
    }

    /**
     * @return list<string>
     */
    public function secretNames(): array
    {
        return [...$this->id->secretNames(), ...($this->secret?->secretNames() ?? [])];
    }

    private function credentials(Secrets $secrets): string
    {
        return base64_encode(urlencode($this->id->reveal($secrets)).':'.urlencode((string) $this->secret?->reveal($secrets)));
    }
}
