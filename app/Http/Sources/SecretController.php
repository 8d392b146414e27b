<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Secrets\Vault;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Request;

/**
 * The secrets of a source in the current environment.
 */
final class SecretController extends SourcePage
{
    /**
     * Sets a secret. One that replaces another is tested first: only when the service takes it is
     * the old one let go.
     */
    public function store(Request $request, Source $source, Vault $vault, Tries $tries): View
    {
        $this->authorize('update', $source);
        $name = $this->text('secret_name');
        $value = $request->input('secret_value');
        $ends = preg_match('/^\d{4}-\d\d-\d\d$/D', $this->text('secret_ends')) === 1 ? $this->text('secret_ends') : null;
        $there = $this->given($source);
        if (preg_match('/^[A-Za-z0-9_-]{1,64}$/D', $name) === 1 && is_string($value) && $value !== '') {
            if ($there === null || $source->current()->source()->base($this->environment()->slug) === null) {
                $vault->put($source, $this->environment(), $name, $value, $this->person(), $ends);
            } else {
                $vault->propose($there, $value, $ends);
                $try = $tries->source($source, $source->current(), $this->environment(), $this->person(), [$name => $value]);
                if (! $this->isRefused($try)) {
                    $vault->accept($there, $this->person());
                }
                if (! $try->succeeded && ! $this->isRefused($try)) {
                    session()->now('said', "The new value of $name is in use. The test ended with {$try->exchanges->first()?->status}, which does not tell whether the service knows it: try an endpoint that needs it.");
                }
            }
        }

        return $this->sheet($source, $source->current());
    }

    /**
     * Whether a test says that the service did not take a secret, or never came as far as to show it. That
     * something else is wrong, like an address at which nothing is, says nothing against it.
     */
    private function isRefused(Tryout $try): bool
    {
        $status = $try->exchanges->first()?->status;

        return ! $try->succeeded && ($status === null || in_array($status, [401, 403, 407], true) || ($try->diagnosis['where'] ?? '') === 'access');
    }

    /**
     * Takes a secret that the service did not take when it was tested.
     */
    public function accept(Source $source, Vault $vault): View
    {
        $this->authorize('update', $source);
        $there = $this->given($source);
        if ($there !== null) {
            $vault->accept($there, $this->person());
        }

        return $this->sheet($source, $source->current());
    }

    /**
     * Lets go of it, so that the old one stays.
     */
    public function discard(Source $source): View
    {
        $this->authorize('update', $source);
        $this->given($source)?->forceFill(['pending' => null])->save();

        return $this->sheet($source, $source->current());
    }

    /**
     * Lets secrets that this person gave travel to where the source leads now.
     */
    public function confirm(Source $source, Vault $vault): View
    {
        $this->authorize('update', $source);
        $secrets = Secret::query()->where(['source_id' => $source->id, 'environment_id' => $this->environment()->id, 'set_by' => $this->person()->id])->get();
        foreach ($secrets as $secret) {
            $vault->confirm($secret);
        }

        return $this->sheet($source, $source->current());
    }

    private function given(Source $source): ?Secret
    {
        return Secret::query()->where(['source_id' => $source->id, 'environment_id' => $this->environment()->id, 'name' => $this->text('secret_name')])->first();
    }
}
