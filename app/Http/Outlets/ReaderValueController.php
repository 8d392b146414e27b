<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\Feed;
use App\Models\Role;
use App\Models\User;
use App\Outlets\CannotPublish;
use App\Outlets\ReaderValues;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * What is set for people, which the conditions of feeds ask for: my('house').
 */
final class ReaderValueController extends Controller
{
    public function show(): View
    {
        $asked = [];
        foreach (Feed::query()->with('environment')->orderBy('name')->get() as $feed) {
            foreach ($feed->asksReader() as $name) {
                $asked[$name][] = $feed;
            }
        }

        return view('outlets.values', ['people' => User::query()->whereNull('off_at')->orderBy('name')->paginate(50), 'asked' => $asked, 'mayChange' => $this->person()->role === Role::Administrator]);
    }

    public function update(AuditLog $log): RedirectResponse
    {
        abort_unless($this->person()->role === Role::Administrator, 403, 'Administrators set what feeds show to whom.');
        $person = User::query()->findOrFail((int) $this->text('person'));
        try {
            $person->fill(['values' => ReaderValues::read($this->text('values'))])->save();
        } catch (CannotPublish $cannot) {
            throw ValidationException::withMessages(["values-$person->id" => $cannot->getMessage()]);
        }
        $log->note(Action::ReaderChanged, $person->name, 'what feeds show: '.(ReaderValues::written($person->values) ?: 'nothing set'));

        return redirect()->route('outlets.values')->with('notice', "Set for $person->name.");
    }
}
