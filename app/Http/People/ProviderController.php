<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\People\Provider\Provider;
use App\People\Provider\ProviderPeople;
use App\People\Provider\ProviderRefused;
use App\People\SignIn;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;

/**
 * The way to the OpenID provider and back.
 */
final class ProviderController extends Controller
{
    private const REMEMBERED = 'provider';

    public function begin(Request $request, Provider $provider): RedirectResponse
    {
        abort_unless($provider->isSetUp(), 404);
        try {
            [$address, $remember] = $provider->begin($this->address());
        } catch (ProviderRefused $refused) {
            return redirect()->route('sign-in')->with('trouble', $refused->getMessage());
        }
        $request->session()->put(self::REMEMBERED, $remember);

        return redirect()->away($address);
    }

    public function return(Request $request, Provider $provider, ProviderPeople $people, SignIn $signIn, AuditLog $log): RedirectResponse
    {
        abort_unless($provider->isSetUp(), 404);
        try {
            // What was remembered is good for one return.
            $claims = $provider->finish($request->query(), (array) $request->session()->pull(self::REMEMBERED), $this->address());
            $person = $people->of($claims);
        } catch (ProviderRefused $refused) {
            $log->note(Action::Refused, 'provider', $refused->getMessage());

            return redirect()->route('sign-in')->with('trouble', $refused->getMessage());
        }
        // The provider asks for further factors itself.
        $signIn->complete($request, $person, 'provider');

        return redirect()->intended(route('watershed', absolute: false));
    }

    private function address(): string
    {
        return rtrim((string) config('app.url'), '/').'/sign-in/provider/return';
    }
}
