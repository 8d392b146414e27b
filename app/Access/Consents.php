<?php

declare(strict_types=1);

namespace App\Access;

use App\Models\Consent;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\TokenRefused;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\TokenTrouble;
use Illuminate\Support\Carbon;
use League\OAuth2\Client\Provider\GenericProvider;

/**
 * The way of a person to the service and back (RFC 6749 §4.1): it begins with a state and a PKCE
 * verifier that only we know, and ends once, by whoever began it, within a quarter of an hour.
 */
final readonly class Consents
{
    private const MINUTES = 15;

    public function __construct(private Vault $vault, private TokenStore $tokens)
    {
    }

    public static function redirectAddress(): string
    {
        return rtrim((string) config('app.url'), '/').'/consent/return';
    }

    /**
     * @param  string  $back  path on our side to return to
     * @return string the address at the service to go to
     *
     * @throws \DeepSpring\Access\MissingSecret
     * @throws ConsentUnknown when the authorize address is none
     */
    public function begin(Source $source, Environment $environment, User $person, AuthorizationCode $scheme, string $back): string
    {
        if (preg_match('~^https?://~i', $scheme->authorizeUrl()) !== 1) {
            throw ConsentUnknown::address($scheme->authorizeUrl());
        }
        $provider = new GenericProvider([
            'clientId' => $scheme->clientId($this->tokens->secretsOf($source, $source->current()->source(), $environment, $person)), 'redirectUri' => self::redirectAddress(),
            'urlAuthorize' => $scheme->authorizeUrl(), 'urlAccessToken' => 'https://unused.invalid/', 'urlResourceOwnerDetails' => 'https://unused.invalid/',
            'scopes' => $scheme->scope() ?? '', 'scopeSeparator' => ' ', 'pkceMethod' => $scheme->usesPkce() ? GenericProvider::PKCE_METHOD_S256 : null,
        ]);
        $address = $provider->getAuthorizationUrl(array_diff_key($scheme->extra(), ['state' => 1, 'redirect_uri' => 1, 'response_type' => 1, 'client_id' => 1]) + ($scheme->scope() === null ? [] : ['scope' => $scheme->scope()]));
        Consent::query()->where('created_at', '<', Carbon::now()->subMinutes(self::MINUTES))->delete();
        Consent::query()->create([
            'state' => $provider->getState(), 'source_id' => $source->id, 'environment_id' => $environment->id, 'user_id' => $person->id, 'scheme' => $scheme->id(),
            'verifier' => $this->vault->seal((string) $provider->getPkceCode()), 'back' => $back,
        ]);

        return $address;
    }

    /**
     * Takes what came back to the redirect address.
     *
     * @param  array<string, string>  $came
     * @return array{string, Diagnosis|null} where the person left, and what went wrong
     *
     * @throws ConsentUnknown
     */
    public function finish(array $came, User $person): array
    {
        $consent = Consent::query()->where('state', $came['state'] ?? '')->where('user_id', $person->id)->where('created_at', '>=', Carbon::now()->subMinutes(self::MINUTES))->where('created_at', '<=', Carbon::now()->addMinute())->first();
        if ($consent === null || $consent->delete() !== true) {
            throw ConsentUnknown::state();
        }
        $source = Source::query()->findOrFail($consent->source_id);
        $environment = Environment::query()->findOrFail($consent->environment_id);
        $definition = $source->current()->source();
        foreach ($definition->access($environment->slug) as $number => $scheme) {
            if ($scheme instanceof AuthorizationCode && $scheme->id() === $consent->scheme) {
                $entry = $definition->accessEntries()[$number];

                return [$consent->back, $this->exchange($consent, $source, $environment, $person, $scheme, $entry, $number, $came)];
            }
        }

        return [$consent->back, new Diagnosis('consent-changed', 'The settings of the sign-in changed while it was under way.', 'Start it again.', 'access')];
    }

    /**
     * @param  array<string, mixed>  $entry
     * @param  array<string, string>  $came
     */
    private function exchange(Consent $consent, Source $source, Environment $environment, User $person, AuthorizationCode $scheme, array $entry, int $number, #[\SensitiveParameter] array $came): ?Diagnosis
    {
        if (($came['code'] ?? '') === '') {
            return TokenTrouble::explain(TokenRefused::atConsent($came['error'] ?? 'no code', $came['error_description'] ?? ''), $entry, $number, self::redirectAddress());
        }
        $secrets = $this->tokens->secretsOf($source, $source->current()->source(), $environment, $person);
        try {
            $this->tokens->keep($source, $environment, $person, $scheme, $scheme->exchange($came['code'], self::redirectAddress(), (string) $this->vault->unseal($consent->verifier), $secrets), $secrets);

            return null;
        } catch (TokenUnavailable $unavailable) {
            return $unavailable->refused === null ? new Diagnosis('token', $unavailable->getMessage(), 'Start the sign-in again.', 'access') : TokenTrouble::explain($unavailable->refused, $entry, $number, self::redirectAddress());
        } catch (\DeepSpring\Access\MissingSecret $missing) {
            return new Diagnosis('secret', $missing->getMessage(), 'Set it, and start the sign-in again.', 'access');
        }
    }
}
