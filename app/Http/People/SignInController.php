<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Http\Controller;
use App\Models\User;
use App\People\Post;
use App\People\Provider\Provider;
use App\People\SignIn;
use App\People\SignInThrottle;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;

final class SignInController extends Controller
{
    public function __construct(private readonly SignIn $signIn, private readonly SignInThrottle $throttle)
    {
    }

    public function show(Provider $provider, Post $post): View
    {
        $old = old('email');

        return view('sign-in.show', [
            'email' => is_string($old) ? $old : '', 'provider' => $provider->isSetUp() ? (string) config('spring.provider.name') : null,
            'passwords' => ! $provider->isOnlyWay(), 'mail' => $post->isSetUp(),
        ]);
    }

    public function store(Request $request, Provider $provider): RedirectResponse
    {
        abort_if($provider->isOnlyWay(), 404);
        $given = $request->validate(
            ['email' => ['required', 'string', 'email', 'max:190'], 'password' => ['required', 'string', 'max:1000']],
            ['email.required' => 'Give the address you sign in with.', 'email.*' => 'This is not an email address.', 'password.required' => 'Give your password.', 'password.*' => 'This is not a password.'],
        );
        $email = mb_strtolower($given['email']);
        $done = $this->signIn->withPassword($request, $email, $given['password']);
        if ($done === false) {
            throw ValidationException::withMessages(['email' => 'This address and password do not belong together.']);
        }
        // Only attempts that fail count against a person.
        $this->throttle->clear($request, $email);

        return $done === null ? redirect()->route('sign-in.second') : redirect()->intended(route('watershed', absolute: false));
    }

    public function second(Request $request): View|RedirectResponse
    {
        return $this->signIn->halfway($request) === null ? redirect()->route('sign-in') : view('sign-in.second');
    }

    public function storeSecond(Request $request): RedirectResponse
    {
        $person = $this->signIn->halfway($request);
        if ($person === null) {
            return redirect()->route('sign-in')->with('trouble', 'That took too long. Start over.');
        }
        if (! $this->signIn->withCode($request, $person, mb_substr($this->text('code'), 0, 60))) {
            throw ValidationException::withMessages(['code' => 'This code is not right, or it was used already. Wait for the next one, or take a recovery code.']);
        }
        $this->throttle->clearSecond($person);

        return redirect()->intended(route('watershed', absolute: false));
    }

    public function destroy(Request $request): RedirectResponse
    {
        $person = $request->user();
        if ($person instanceof User) {
            $this->signIn->end($request, $person);
        }

        return redirect()->route('sign-in');
    }
}
