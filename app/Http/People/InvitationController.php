<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Http\Controller;
use App\Models\Invitation;
use App\Models\User;
use App\People\Invitations;
use App\People\Passwords;
use App\People\PersonRefused;
use App\People\Post;
use App\People\Provider\Provider;
use App\People\SignIn;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;

/**
 * Links by which somebody chooses a password, and asking for one.
 */
final class InvitationController extends Controller
{
    public function __construct(private readonly Invitations $invitations, private readonly Passwords $passwords, private readonly Provider $provider)
    {
    }

    public function show(string $token): View|Response
    {
        $invitation = $this->found($token);

        return $invitation === null ? response(view('sign-in.link-over'), 404) : view('sign-in.accept', ['invitation' => $invitation, 'token' => $token]);
    }

    public function accept(Request $request, string $token, SignIn $signIn): RedirectResponse|Response
    {
        $invitation = $this->found($token);
        if ($invitation === null) {
            return response(view('sign-in.link-over'), 404);
        }
        [$name, $email] = $this->who($invitation);
        $password = is_string($request->input('password')) ? $request->input('password') : '';
        $refusal = $this->passwords->rules($name, $email)->refusal($password);
        if ($refusal !== null) {
            throw ValidationException::withMessages(['password' => $refusal]);
        }
        if ($password !== $request->input('again')) {
            throw ValidationException::withMessages(['again' => 'The two passwords are not the same.']);
        }
        try {
            $person = $this->invitations->accept($invitation, $name, $email, $password);
        } catch (PersonRefused $refused) {
            throw ValidationException::withMessages(['email' => $refused->getMessage()]);
        }
        if ($person->hasSecondFactor()) {
            return redirect()->route('sign-in')->with('notice', 'The password is changed. Sign in with it and your second factor.');
        }
        $signIn->complete($request, $person, 'link');

        return redirect()->route('watershed');
    }

    /**
     * How good a password is, while it is typed.
     */
    public function strength(Request $request): Response
    {
        $password = is_string($request->input('password')) ? mb_substr($request->input('password'), 0, 1000) : '';
        $person = $request->user();
        $rules = $person instanceof User ? $this->passwords->rules($person->name, $person->email) : $this->passwords->rules($this->text('name'), $this->text('email'));

        return response(e($rules->strength($password)), 200, ['Content-Type' => 'text/html; charset=utf-8']);
    }

    public function forgotten(Post $post): View
    {
        abort_if($this->provider->isOnlyWay(), 404);

        return view('sign-in.forgotten', ['mail' => $post->isSetUp()]);
    }

    /**
     * Says the same whether there is such a person or not.
     */
    public function sendForgotten(Post $post): RedirectResponse
    {
        abort_if(! $post->isSetUp() || $this->provider->isOnlyWay(), 404);
        $person = User::query()->where('email', mb_strtolower($this->text('email')))->whereNull('off_at')->first();
        if ($person !== null) {
            // After the answer, so that the time tells nothing either.
            dispatch(static fn (Invitations $invitations) => $invitations->reset($person, null))->afterResponse();
        }

        return redirect()->route('sign-in')->with('notice', 'If somebody signs in with this address, a link is on its way to it.');
    }

    private function found(string $token): ?Invitation
    {
        $invitation = $this->invitations->find($token);

        // Where the provider is the only way in, a link lets in the first administrator alone.
        return $invitation?->purpose !== 'first' && $this->provider->isOnlyWay() ? null : $invitation;
    }

    /**
     * @return array{string, string} name and mail address of whoever accepts
     */
    private function who(Invitation $invitation): array
    {
        if ($invitation->user !== null) {
            return [$invitation->user->name, $invitation->user->email];
        }
        $given = request()->validate(
            ['name' => ['required', 'string', 'max:190']] + ($invitation->email === null ? ['email' => ['required', 'string', 'email', 'max:190']] : []),
            ['name.*' => 'Give your name.', 'email.*' => 'This is not an email address.'],
        );

        return [trim($given['name']), $invitation->email ?? mb_strtolower($given['email'])];
    }
}
