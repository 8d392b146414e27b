<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Http\Controller;
use App\Models\PeopleGroup;
use App\Models\User;
use App\People\Groups;
use App\People\PersonRefused;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Facades\Gate;
use Illuminate\Validation\ValidationException;

/**
 * Groups of people. For administrators.
 */
final class GroupController extends Controller
{
    private const PAGE = 50;

    public function __construct(private readonly Groups $groups)
    {
    }

    public function make(): RedirectResponse
    {
        Gate::authorize('administer');

        return redirect()->route('people.group', $this->orSay('group', fn (): PeopleGroup => $this->groups->make($this->text('group'))));
    }

    public function show(PeopleGroup $group): View
    {
        Gate::authorize('administer');
        $members = $group->members()->orderBy('name')->orderBy('users.id')->paginate(self::PAGE)->withQueryString();

        return view('people.group', [
            'group' => $group, 'members' => $members, 'rights' => $group->rights()->with('endpoint.source', 'environment')->get(),
            'others' => User::query()->whereNull('off_at')->whereNotIn('id', $group->members()->select('users.id'))->orderBy('name')->limit(500)->get(['id', 'name', 'email']),
        ]);
    }

    public function rename(PeopleGroup $group): RedirectResponse
    {
        Gate::authorize('administer');
        $this->orSay('group', fn () => $this->groups->rename($group, $this->text('group')));

        return redirect()->route('people.group', $group);
    }

    public function delete(PeopleGroup $group): RedirectResponse
    {
        Gate::authorize('administer');
        $this->groups->delete($group);

        return redirect()->route('people.index')->with('notice', "The group $group->name is gone, with the rights that it had.");
    }

    public function add(PeopleGroup $group): RedirectResponse
    {
        Gate::authorize('administer');
        $given = mb_strtolower(trim($this->text('email')));
        $person = User::query()->where('email', $given)->first() ?? throw ValidationException::withMessages(['email' => $given === '' ? 'Whom? Give a mail address.' : "Nobody here has the address $given."]);
        $this->orSay('email', fn () => $this->groups->add($group, $person));

        return redirect()->route('people.group', $group);
    }

    public function remove(PeopleGroup $group, User $person): RedirectResponse
    {
        Gate::authorize('administer');
        $this->groups->remove($group, $person);

        return redirect()->route('people.group', $group);
    }

    /**
     * @template T
     *
     * @param  \Closure(): T  $does
     * @return T
     */
    private function orSay(string $field, \Closure $does): mixed
    {
        try {
            return $does();
        } catch (PersonRefused $refused) {
            throw ValidationException::withMessages([$field => $refused->getMessage()]);
        }
    }
}
