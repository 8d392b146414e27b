<?php

declare(strict_types=1);

namespace App\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Setting;
use App\Models\User;
use Illuminate\Auth\AuthManager;
use Illuminate\Contracts\Auth\StatefulGuard;
use Illuminate\Http\Request;

/**
 * Where every way in ends: password, second factor, OpenID provider, invitation.
 */
final readonly class SignIn
{
    /** Where the session keeps who has proven a password and not the second factor yet. */
    private const HALFWAY = 'halfway';

    /** Seconds that somebody has for the second factor. */
    private const PATIENCE = 600;

    public function __construct(private AuthManager $guards, private Sessions $sessions, private Passwords $passwords, private SecondFactor $second, private AuditLog $log)
    {
    }

    /**
     * @return bool|null null when a second factor is wanted yet
     */
    public function withPassword(Request $request, string $email, #[\SensitiveParameter] string $password): ?bool
    {
        $person = User::query()->where('email', $email)->first();
        if (! $this->passwords->isRight($person, $password) || $person === null || $person->isOff()) {
            $this->log->note(Action::Refused, $email, $person?->isOff() === true ? 'switched off' : '');

            return false;
        }
        if ($person->hasSecondFactor()) {
            $request->session()->regenerate();
            $request->session()->put(self::HALFWAY, ['person' => $person->id, 'until' => now()->getTimestamp() + self::PATIENCE]);

            return null;
        }
        $this->complete($request, $person, 'password');

        return true;
    }

    /**
     * Who has proven a password, and has the second factor still to prove.
     */
    public function halfway(Request $request): ?User
    {
        $halfway = $request->session()->get(self::HALFWAY);
        // A clock that went back does not make it last longer.
        $left = is_array($halfway) ? (int) ($halfway['until'] ?? 0) - now()->getTimestamp() : 0;

        return $left > 0 && $left <= self::PATIENCE ? User::query()->whereNull('off_at')->find($halfway['person'] ?? 0) : null;
    }

    /**
     * @param  string  $code  of the authenticator, or a recovery code
     */
    public function withCode(Request $request, User $person, #[\SensitiveParameter] string $code): bool
    {
        $how = $this->second->take($person, $code);
        if ($how === null) {
            $this->log->note(Action::Refused, $person->email, 'second factor');

            return false;
        }
        $request->session()->forget(self::HALFWAY);
        $this->complete($request, $person, "password and $how");

        return true;
    }

    public function complete(Request $request, User $person, string $how): void
    {
        // The session before belonged to nobody, or to somebody else.
        $request->session()->regenerate(true);
        $this->guard()->login($person);
        $this->sessions->begin($request, $person);
        $person->forceFill(['seen_at' => now()])->save();
        $this->log->note(Action::SignedIn, $person->email, $how, $person);
    }

    public function end(Request $request, User $person): void
    {
        $session = $this->sessions->current($request, $person);
        if ($session !== null) {
            $this->sessions->end($session);
        }
        $this->forget($request);
        $this->log->note(Action::SignedOut, $person->email, '', $person);
    }

    /**
     * The browser's side of a session that is over.
     */
    public function forget(Request $request): void
    {
        $this->guard()->logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();
    }

    private function guard(): StatefulGuard
    {
        $guard = $this->guards->guard('web');

        return $guard instanceof StatefulGuard ? $guard : throw new \LogicException('People sign in with a session.');
    }

    /**
     * Whether somebody has to set up a second factor before anything else.
     */
    public function mustSetUp(User $person): bool
    {
        return ! $person->hasSecondFactor() && in_array($person->role->value, explode(' ', Setting::text(Setting::SECOND_FACTOR_FOR)), true);
    }
}
