<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\Consumer;
use App\Models\ConsumerKey;
use App\Models\DoorAccount;
use App\Models\FeedCall;
use App\Outlets\CannotPublish;
use App\Outlets\DoorBook;
use App\Outlets\KeyRing;
use App\Outlets\OutsideControl;
use App\Outlets\ReaderValues;
use App\Reservoir\ReaderAccounts;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Carbon;
use Illuminate\Validation\ValidationException;

/**
 * Who reads feeds with a key, and the keys.
 */
final class ConsumerController extends Controller
{
    private const LIMITS = ['a_minute' => 100_000, 'a_day' => 100_000_000, 'at_once' => 100];

    public function store(AuditLog $log): RedirectResponse
    {
        $name = $this->name(null);
        $consumer = Consumer::query()->create(['user_id' => $this->person()->id, 'name' => $name, 'purpose' => mb_substr($this->text('purpose'), 0, 500)]);
        $log->note(Action::ReaderChanged, $name, 'added');

        return redirect()->route('outlets.readers.show', $consumer)->with('notice', "$name is added. Give it a key, and choose it on the sheets of the feeds that it may read.");
    }

    public function show(Consumer $consumer): View
    {
        return view('outlets.reader', ['consumer' => $consumer->load('user', 'keys', 'feeds.environment'), 'calls' => FeedCall::query()->with('feed')->where('consumer_id', $consumer->id)->orderByDesc('id')->limit(20)->get(), 'key' => session('key')]);
    }

    public function update(Consumer $consumer, ReaderAccounts $accounts, AuditLog $log): RedirectResponse
    {
        $this->authorize('update', $consumer);
        $addresses = FeedFields::list(strtr($this->text('addresses'), [' ' => ',', "\n" => ',', "\r" => ',']));
        foreach ($addresses as $address) {
            [$host, $bits] = explode('/', $address, 2) + [1 => null];
            if (filter_var($host, FILTER_VALIDATE_IP) === false || $bits !== null && (preg_match('/^\d{1,3}$/D', $bits) !== 1 || (int) $bits > (str_contains($host, ':') ? 128 : 32))) {
                throw ValidationException::withMessages(['addresses' => "\"$address\" is no address or network, like 192.0.2.7 or 192.0.2.0/24."]);
            }
        }
        $limits = [];
        foreach (self::LIMITS as $field => $most) {
            $text = $this->text($field);
            if (preg_match('/^[1-9]\d{0,8}$/D', $text) !== 1 || (int) $text > $most) {
                throw ValidationException::withMessages([$field => "\"$text\" is no whole number between 1 and $most."]);
            }
            $limits[$field] = (int) $text;
        }
        $rows = $this->text('rows_a_day');
        if ($rows !== '' && preg_match('/^[1-9]\d{0,14}$/D', $rows) !== 1) {
            throw ValidationException::withMessages(['rows_a_day' => "\"$rows\" is no number of rows."]);
        }
        try {
            $more = ['values' => ReaderValues::read($this->text('values')), 'refreshes' => OutsideControl::read($this->text('refreshes'))];
        } catch (CannotPublish $cannot) {
            throw ValidationException::withMessages([$cannot->field => $cannot->getMessage()]);
        }
        $isOff = $this->text('off') === '1';
        $was = $consumer->at_once;
        $consumer->fill(['name' => $this->name($consumer), 'purpose' => mb_substr($this->text('purpose'), 0, 500), 'addresses' => $addresses, 'rows_a_day' => $rows === '' ? null : (int) $rows, 'off_at' => $isOff ? ($consumer->off_at ?? Carbon::now()) : null] + $limits + $more)->save();
        // Its account is made anew, with as many connections.
        $was !== $consumer->at_once || $isOff ? $accounts->drop($consumer) : null;
        $log->note(Action::ReaderChanged, $consumer->name, $isOff ? 'may read nothing' : '');

        return redirect()->route('outlets.readers.show', $consumer)->with('notice', $isOff ? "$consumer->name may read nothing until that is changed again." : 'Saved.');
    }

    public function give(Consumer $consumer, KeyRing $keys): RedirectResponse
    {
        $this->authorize('update', $consumer);
        $day = $this->text('ends_on');
        if ($day !== '' && (preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $day, $part) !== 1 || ! checkdate((int) $part[2], (int) $part[3], (int) $part[1]))) {
            throw ValidationException::withMessages(['ends_on' => "\"$day\" is no day like 2031-09-01."]);
        }
        try {
            $plain = $keys->give($consumer, $day === '' ? null : Carbon::parse($day, $this->person()->zone)->endOfDay()->utc(), $this->person());
        } catch (CannotPublish $cannot) {
            throw ValidationException::withMessages([$cannot->field => $cannot->getMessage()]);
        }

        return redirect()->route('outlets.readers.show', $consumer)->with('key', $plain);
    }

    public function withdraw(Consumer $consumer, ConsumerKey $key, KeyRing $keys): RedirectResponse
    {
        $this->authorize('update', $consumer);
        abort_if($key->consumer_id !== $consumer->id, 404);
        $keys->withdraw($key, $this->person());

        return redirect()->route('outlets.readers.show', $consumer)->with('notice', "The key {$key->beginning}… opens nothing any more.");
    }

    public function destroy(Consumer $consumer, ReaderAccounts $accounts, DoorBook $door, AuditLog $log): RedirectResponse
    {
        $this->authorize('update', $consumer);
        $accounts->drop($consumer);
        DoorAccount::query()->where('consumer_id', $consumer->id)->get()->each(fn (DoorAccount $account) => $door->withdraw($account, $this->person()));
        $consumer->delete();
        $log->note(Action::ReaderChanged, $consumer->name, 'deleted, with its keys');

        return redirect()->route('outlets.index')->with('notice', "$consumer->name is deleted, and its keys open nothing any more.");
    }

    /**
     * @throws ValidationException
     */
    private function name(?Consumer $consumer): string
    {
        $name = mb_substr($this->text('name'), 0, 100);
        if ($name === '') {
            throw ValidationException::withMessages(['name' => 'Give it a name, like Courier planning.']);
        }
        if (Consumer::query()->where('name', $name)->when($consumer !== null, static fn ($query) => $query->whereKeyNot($consumer?->id))->exists()) {
            throw ValidationException::withMessages(['name' => "There is a reader \"$name\" already."]);
        }

        return $name;
    }
}
