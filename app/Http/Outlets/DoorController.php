<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\DoorAccount;
use App\Models\Role;
use App\Outlets\DoorBook;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Symfony\Component\HttpFoundation\BinaryFileResponse;

/**
 * Accounts for tools that are not ours.
 */
final class DoorController extends Controller
{
    public function __construct(private readonly DoorBook $book)
    {
    }

    public function show(): View
    {
        $all = DoorAccount::query()->with('user', 'consumer', 'environment')->orderBy('id')->get();
        $mine = $all->filter(fn (DoorAccount $one): bool => $this->person()->role === Role::Administrator || $one->user_id === $this->person()->id || $one->consumer?->user_id === $this->person()->id);

        return view('outlets.door', [
            'door' => DoorBook::address(), 'accounts' => $mine, 'taken' => $this->book->taken($mine), 'isNew' => ! $all->contains(fn (DoorAccount $one): bool => $one->user_id === $this->person()->id && $one->environment_id === $this->environment()->id),
            'consumers' => Consumer::query()->whereNull('off_at')->orderBy('name')->get()->filter(fn (Consumer $one): bool => $this->person()->can('update', $one) && ! $all->contains(fn (DoorAccount $account): bool => $account->consumer_id === $one->id && $account->environment_id === $this->environment()->id)),
        ]);
    }

    public function give(): RedirectResponse
    {
        $to = $this->text('consumer') === '' ? $this->person() : Consumer::query()->findOrFail((int) $this->text('consumer'));
        $to instanceof Consumer && $this->authorize('update', $to);
        [$account, $password] = $this->book->give($to, $this->environment(), $this->person());

        return redirect()->route('outlets.door')->with('given', [$account->id, $password]);
    }

    public function again(DoorAccount $account): RedirectResponse
    {
        $this->mayChange($account);
        [, $password] = $this->book->give($account->owner(), $account->environment, $this->person());

        return redirect()->route('outlets.door')->with('given', [$account->id, $password]);
    }

    public function withdraw(DoorAccount $account): RedirectResponse
    {
        $this->mayChange($account);
        $this->book->withdraw($account, $this->person());

        return redirect()->route('outlets.door')->with('notice', "The account $account->name opens nothing any more.");
    }

    public function certificate(): BinaryFileResponse
    {
        $file = base_path(config('spring.var').'/door.crt');
        abort_unless(is_file($file), 404, 'The database stands elsewhere; whoever runs it has its certificate.');

        return response()->download($file, 'door.crt', ['Content-Type' => 'application/x-pem-file']);
    }

    private function mayChange(DoorAccount $account): void
    {
        $owner = $account->owner();
        $isAllowed = $this->person()->role === Role::Administrator || ($owner instanceof Consumer ? $this->person()->can('update', $owner) : $owner->is($this->person()));
        abort_unless($isAllowed, 403, 'Only whoever answers for it, or an administrator, changes this account.');
    }
}
