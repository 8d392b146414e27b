<?php

declare(strict_types=1);

namespace App\Http\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\Invitation;
use App\Models\PeopleGroup;
use App\Models\Role;
use App\Models\Setting;
use App\Models\User;
use App\People\Invitations;
use App\People\People;
use App\People\PersonRefused;
use App\People\Post;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Gate;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;

/**
 * Who there is. For administrators.
 */
final class PeopleController extends Controller
{
    private const PAGE = 50;

    private const SORTS = ['name', 'email', 'role', 'seen_at'];

    public function __construct(private readonly People $people, private readonly Invitations $invitations)
    {
    }

    public function index(Post $post): View
    {
        Gate::authorize('administer');
        $search = $this->text('q');
        $sort = in_array($this->text('sort'), self::SORTS, true) ? $this->text('sort') : 'name';
        $like = '%'.addcslashes($search, '%_\\').'%';
        $people = User::query()
            ->when($search !== '', static fn ($query) => $query->whereRaw('(name collate utf8mb4_general_ci like ? or email collate utf8mb4_general_ci like ?)', [$like, $like]))
            ->orderBy($sort, $sort === 'seen_at' ? 'desc' : 'asc')->orderBy('id')->paginate(self::PAGE)->withQueryString();

        return view('people.index', [
            'groups' => PeopleGroup::query()->withCount('members')->orderBy('name')->get(), 'people' => $people, 'search' => $search, 'sort' => $sort, 'mail' => $post->isSetUp(), 'made' => session('made'),
            'invitations' => Invitation::query()->with('madeBy')->where('purpose', 'invite')->whereNull('used_at')->where('expires_at', '>', Carbon::now())->latest('id')->limit(100)->get(),
            'required' => explode(' ', Setting::text(Setting::SECOND_FACTOR_FOR)),
        ]);
    }

    public function invite(Request $request): RedirectResponse
    {
        Gate::authorize('administer');
        $given = $request->validate(
            ['email' => ['required', 'string', 'email', 'max:190'], 'name' => ['nullable', 'string', 'max:190'], 'role' => ['required', Rule::enum(Role::class)]],
            ['email.*' => 'This is not an email address.', 'role.*' => 'Choose a role.'],
        );
        try {
            [$link, $mail] = $this->invitations->invite(mb_strtolower($given['email']), trim((string) ($given['name'] ?? '')), Role::from($given['role']), $this->person());
        } catch (PersonRefused $refused) {
            throw ValidationException::withMessages(['email' => $refused->getMessage()]);
        }

        return redirect()->route('people.index')->with('made', ['for' => $given['email'], 'link' => $link, 'mail' => $mail, 'until' => Invitations::INVITE_DAYS.' days']);
    }

    public function role(Request $request, User $person): RedirectResponse
    {
        Gate::authorize('administer');
        $role = Role::tryFrom($this->text('role')) ?? abort(422);

        return $this->change($person, fn () => $this->people->changeRole($person, $role));
    }

    public function off(User $person): RedirectResponse
    {
        Gate::authorize('administer');

        return $this->change($person, fn () => $this->people->switchOff($person));
    }

    public function on(User $person): RedirectResponse
    {
        Gate::authorize('administer');

        return $this->change($person, fn () => $this->people->switchOn($person));
    }

    public function reset(User $person): RedirectResponse
    {
        Gate::authorize('administer');
        if ($person->isOff()) {
            throw ValidationException::withMessages(["person.$person->id" => "{$person->name} is switched off. Switch them on first."]);
        }
        [$link, $mail] = $this->invitations->reset($person, $this->person());

        return redirect()->route('people.index')->with('made', ['for' => $person->email, 'link' => $link, 'mail' => $mail, 'until' => Invitations::RESET_HOURS.' hour']);
    }

    public function takeBack(Invitation $invitation): RedirectResponse
    {
        Gate::authorize('administer');
        $this->invitations->takeBack($invitation);

        return redirect()->route('people.index');
    }

    public function policy(Request $request, AuditLog $log): RedirectResponse
    {
        Gate::authorize('administer');
        $roles = array_values(array_filter(array_map(static fn (Role $role): string => $role->value, Role::cases()), static fn (string $role): bool => in_array($role, (array) $request->input('roles', []), true)));
        Setting::set(Setting::SECOND_FACTOR_FOR, implode(' ', $roles));
        $log->note(Action::PolicyChanged, $roles === [] ? 'nobody' : implode(', ', $roles));

        return redirect()->route('people.index');
    }

    /**
     * @param  \Closure(): void  $change
     */
    private function change(User $person, \Closure $change): RedirectResponse
    {
        try {
            $change();
        } catch (PersonRefused $refused) {
            throw ValidationException::withMessages(["person.$person->id" => $refused->getMessage()]);
        }

        return redirect()->to(url()->previous(route('people.index')));
    }
}
