<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\OpenSession;
use App\People\Invitations;
use App\People\Passwords;
use App\People\SecondFactor;
use App\People\Sessions;
use App\People\SignIn;
use App\View\Moments;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;

/**
 * What everybody sees and sets of their own: name, password, how times are written, sessions, the
 * second factor.
 */
final class AccountController extends Controller
{
    public function __construct(private readonly Sessions $sessions, private readonly SecondFactor $second, private readonly Passwords $passwords)
    {
    }

    public function show(Request $request, SignIn $signIn): View
    {
        return view('account', [
            'person' => $this->person(), 'current' => $this->sessions->current($request, $this->person()),
            'sessions' => OpenSession::query()->where('user_id', $this->person()->id)->orderByDesc('seen_at')->limit(100)->get(),
            'offered' => $this->second->offered($this->person()), 'codes' => session('codes'), 'must' => $signIn->mustSetUp($this->person()),
            'zones' => \DateTimeZone::listIdentifiers(),
        ]);
    }

    public function update(Request $request): RedirectResponse
    {
        $given = $request->validate([
            'name' => ['required', 'string', 'max:190'],
            'zone' => ['required', Rule::in(\DateTimeZone::listIdentifiers())],
            'dates' => ['required', Rule::in(array_keys(Moments::DATES))],
            'numbers' => ['required', Rule::in(array_keys(Moments::GROUPS))],
        ], ['name.*' => 'Give your name.', 'zone.*' => 'Choose a time zone of the list.', 'dates.*' => 'Choose one of the list.', 'numbers.*' => 'Choose one of the list.']);
        $this->person()->fill($given)->save();

        return redirect()->route('account')->with('notice', 'Saved.');
    }

    public function password(Request $request, Invitations $invitations): RedirectResponse
    {
        $this->prove($request);
        $password = is_string($request->input('password')) ? $request->input('password') : '';
        $refusal = $this->passwords->rules($this->person()->name, $this->person()->email)->refusal($password);
        if ($refusal !== null) {
            throw ValidationException::withMessages(['password' => $refusal]);
        }
        if ($password !== $request->input('again')) {
            throw ValidationException::withMessages(['again' => 'The two passwords are not the same.']);
        }
        $ended = $invitations->changePassword($this->person(), $password, $this->sessions->current($request, $this->person()));
        $request->session()->regenerate();

        return redirect()->route('account')->with('notice', 'The password is changed.'.($ended === 0 ? '' : " $ended other ".($ended === 1 ? 'session was' : 'sessions were').' ended.'));
    }

    public function beginSecond(Request $request): RedirectResponse
    {
        $this->prove($request);
        $this->second->begin($this->person());

        return redirect()->to(route('account').'#second-factor');
    }

    public function confirmSecond(): RedirectResponse
    {
        $codes = $this->second->confirm($this->person(), mb_substr($this->text('code'), 0, 60));
        if ($codes === null) {
            throw ValidationException::withMessages(['code' => 'This code is not right. Is the clock of the authenticator?'])->redirectTo(route('account').'#second-factor');
        }

        return redirect()->to(route('account').'#second-factor')->with('codes', $codes);
    }

    public function renewCodes(Request $request): RedirectResponse
    {
        $this->prove($request);
        abort_unless($this->person()->hasSecondFactor(), 404);

        return redirect()->to(route('account').'#second-factor')->with('codes', $this->second->renewRecoveryCodes($this->person()));
    }

    public function removeSecond(Request $request): RedirectResponse
    {
        $this->prove($request);
        $this->second->remove($this->person());

        return redirect()->to(route('account').'#second-factor')->with('notice', 'The second factor is removed.');
    }

    public function endSession(Request $request, OpenSession $session, AuditLog $log): RedirectResponse
    {
        abort_unless($session->user_id === $this->person()->id, 404);
        $this->sessions->end($session);
        $log->note(Action::SessionEnded, $this->person()->email, $session->device());

        return redirect()->to(route('account').'#sessions');
    }

    public function endOthers(Request $request, AuditLog $log): RedirectResponse
    {
        $ended = $this->sessions->endAll($this->person(), $this->sessions->current($request, $this->person()));
        $log->note(Action::SessionEnded, $this->person()->email, "$ended others");

        return redirect()->to(route('account').'#sessions')->with('notice', $ended === 1 ? 'One session was ended.' : "$ended sessions were ended.");
    }

    /**
     * What changes how somebody signs in asks for the password once more.
     */
    private function prove(Request $request): void
    {
        $password = $request->input('current');
        if (! is_string($password) || ! $this->passwords->isRight($this->person(), mb_substr($password, 0, 1000))) {
            throw ValidationException::withMessages([($this->text('for') ?: 'current') => 'This is not your current password.'])->redirectTo(route('account'));
        }
    }
}
