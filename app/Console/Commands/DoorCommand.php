<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Consumer;
use App\Models\DoorAccount;
use App\Models\Environment;
use App\Models\User;
use App\Outlets\DoorBook;
use App\Outlets\DoorStrings;

final class DoorCommand extends SpringCommand
{
    protected $signature = 'spring:door {do=list : list, give or withdraw} {for? : A mail address, the name of a reader of feeds, or with withdraw the name of an account} {--environment= : Environment}';

    protected $description = 'Lists accounts of the database for tools that are not ours, gives one, withdraws it';

    public function work(DoorBook $book): int
    {
        return match ((string) $this->argument('do')) {
            'list' => $this->list($book),
            'give' => $this->giveAccount($book),
            'withdraw' => $this->withdraw($book),
            default => throw new WrongUse("There is no \"{$this->argument('do')}\" here; there are list, give and withdraw."),
        };
    }

    private function list(DoorBook $book): int
    {
        $this->say(DoorBook::address() === null ? 'The door is closed: SPRING_DOOR in .env says where it opens.' : 'The door is open at '.DoorBook::address().'.');
        $accounts = DoorAccount::query()->with('environment', 'user', 'consumer')->orderBy('id')->get();
        $taken = $book->taken($accounts);
        foreach ($accounts as $account) {
            [$rows, $isLocked] = $taken[$account->id];
            $this->giveLine(implode("\t", [$account->name, $account->environment->slug, $account->owner()->name, "$account->at_once connections", "$account->seconds s", "$rows of {$account->rowsADay()} rows today".($isLocked ? ', locked until tomorrow' : '')]));
        }

        return self::DONE;
    }

    private function giveAccount(DoorBook $book): int
    {
        $for = trim((string) $this->argument('for'));
        $to = User::query()->where('email', $for)->whereNull('off_at')->first() ?? Consumer::query()->where('name', $for)->whereNull('off_at')->first() ?? throw new WrongUse($for === '' ? 'Say for whom: a mail address, or the name of a reader of feeds.' : "Nobody here has the mail address \"$for\", and no reader of feeds is called so.");
        $asked = $this->option('environment');
        $environment = is_string($asked) && $asked !== '' ? (Environment::named($asked) ?? throw new WrongUse("There is no environment \"$asked\".")) : Environment::query()->orderBy('id')->firstOrFail();
        [$account, $password] = $book->give($to, $environment, $to instanceof User ? $to : $to->user);
        $this->say("An account for $to->name in $environment->name. The password is not shown again.");
        $this->giveLine("$account->name\t$password");
        foreach (DoorBook::address() === null ? [] : DoorStrings::of($account, DoorBook::address()) as $tool => $string) {
            $this->say("$tool: $string");
        }

        return self::DONE;
    }

    private function withdraw(DoorBook $book): int
    {
        $name = (string) $this->argument('for');
        $account = DoorAccount::query()->with('environment', 'user', 'consumer')->where('name', $name)->first() ?? throw new WrongUse("There is no account \"$name\". See: ./spring door");
        $owner = $account->owner();
        $book->withdraw($account, $owner instanceof User ? $owner : $owner->user);
        $this->say("$name opens nothing any more.");

        return self::DONE;
    }
}
