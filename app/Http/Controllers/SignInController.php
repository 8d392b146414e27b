<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Providers\AppServiceProvider;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Illuminate\Support\Facades\RateLimiter;
use Illuminate\Validation\ValidationException;

final class SignInController extends Controller
{
    public function show(): View
    {
        return view('sign-in');
    }

    public function store(Request $request): RedirectResponse
    {
        $given = $request->validate(
            ['email' => ['required', 'string', 'email', 'max:190'], 'password' => ['required', 'string', 'max:1000']],
            ['email.required' => 'Give the address you sign in with.', 'email.email' => 'This is not a mail address.', 'password.required' => 'Give your password.'],
        );
        if (! Auth::attempt($given)) {
            throw ValidationException::withMessages(['email' => 'This address and password do not belong together.']);
        }
        $request->session()->regenerate();
        // Only attempts that fail count against a person.
        RateLimiter::clear(md5('sign-in'.AppServiceProvider::signInKey($request)));

        return redirect()->intended(route('watershed'));
    }

    public function destroy(Request $request): RedirectResponse
    {
        Auth::logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();

        return redirect()->route('sign-in');
    }
}
