<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Access\Consents;
use App\Access\ConsentUnknown;
use App\Access\TokenStore;
use App\Http\Controller;
use App\Models\Source;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\OAuth\AuthorizationCode;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * To the consent page of a service, and back from it.
 */
final class ConsentController extends Controller
{
    public function begin(Request $request, Source $source, Consents $consents): Response
    {
        $this->authorize('update', $source);
        $path = (string) parse_url((string) $request->header('HX-Current-URL'), PHP_URL_PATH);
        try {
            $address = $consents->begin($source, $this->environment(), $this->person(), $this->scheme($source), str_starts_with($path, '/sources/') ? $path : route('sources.show', $source, false));
        } catch (MissingSecret|ConsentUnknown $missing) {
            session()->flash('consent', ['code' => 'secret', 'what' => $missing->getMessage(), 'advice' => $missing instanceof MissingSecret ? 'Set it first.' : 'Compare the authorize address with the documentation.', 'where' => 'access']);
            $address = $path === '' ? route('sources.show', $source) : $path;
        }

        return response('', 204, ['HX-Redirect' => $address]);
    }

    public function return(Request $request, Consents $consents): RedirectResponse
    {
        try {
            [$back, $trouble] = $consents->finish(array_filter($request->query(), is_string(...)), $this->person());
        } catch (ConsentUnknown $unknown) {
            return redirect()->route('sources.index')->with('trouble', $unknown->getMessage());
        }
        session()->flash('consent', $trouble?->toArray() ?? true);

        return redirect($back);
    }

    public function forget(Source $source, TokenStore $tokens): RedirectResponse
    {
        $this->authorize('update', $source);
        $scheme = $this->scheme($source);
        $row = $tokens->peek($source, $this->environment(), $this->person(), $scheme);
        if ($row !== null) {
            $complaint = $tokens->forget($row, $scheme, $tokens->secretsOf($source, $source->current()->source(), $this->environment(), $this->person()));
            if ($complaint !== null) {
                session()->flash('consent', ['code' => 'revoke', 'what' => "The consent is forgotten here, but the service was not told: $complaint", 'advice' => 'Withdraw it at the service too.', 'where' => 'access']);
            }
        }

        return redirect()->route('sources.show', $source);
    }

    private function scheme(Source $source): AuthorizationCode
    {
        $scheme = $source->current()->source()->access($this->environment()->slug)[(int) $this->text('scheme')] ?? null;

        return $scheme instanceof AuthorizationCode ? $scheme : abort(404);
    }
}
