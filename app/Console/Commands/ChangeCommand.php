<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Changes\Bulk;
use App\Changes\BulkWish;
use App\Changes\CannotChange;
use App\Changes\ChangeSets;
use App\Changes\ChangeTable;
use App\Changes\Courier;
use App\Changes\Refusals;
use App\Console\CallerFiles;
use App\Models\ChangeRight;
use App\Models\ChangeSetState;
use App\Models\Role;
use App\Models\User;
use DeepSpring\Value\Phrase;

/**
 * Changes records at the service they come from: a dry run, or for real with --send.
 */
final class ChangeCommand extends SpringCommand
{
    protected $signature = 'spring:change {table : A kept table} {--by= : Mail address of the person whose rights count and whose name it carries} {--where= : Only rows of which this expression is true} {--set=* : column=value, or column==expression} {--file= : CSV with a line of headings; rows are found by the key} {--create : Creates records that are not there} {--delete : Deletes the records} {--call= : Slug of the endpoint that is called on them} {--send : Sends it; without it, says what would become of the rows} {--let= : Gives a mail address, or everybody of a role, the right to change the table} {--environment= : Environment}';

    protected $description = 'Changes records of a table at the service they come from, or says what that would do';

    private const WORDS = ['create' => 'would be created', 'update' => 'would be changed', 'delete' => 'would be deleted', 'call' => 'would be called on', 'same' => 'would stay as they are', 'refused' => 'do not fit'];

    public function work(Bulk $bulk, ChangeSets $sets, Courier $courier): int
    {
        $name = (string) $this->argument('table');
        $kept = $this->keptTable($name) ?? throw $this->noTable($name);
        $table = ChangeTable::of($kept) ?? throw new WrongUse("Nothing says how records of $name are changed: its source file has no change for the endpoint {$kept->endpoint->slug}.");
        if (is_string($this->option('let')) && $this->option('let') !== '') {
            return $this->let($table, $this->option('let'));
        }
        $person = User::query()->where('email', (string) $this->option('by'))->whereNull('off_at')->first() ?? throw new WrongUse('Say with --by whose rights count: the mail address of somebody who may change this table.');
        try {
            $wish = $this->wish($table);
            $dry = $bulk->dryRun($table, $wish, $person);
            foreach ($dry['unmatched'] as $heading) {
                $this->say("Not taken over: the table has no column \"$heading\".");
            }
            foreach (self::WORDS as $kind => $words) {
                $dry['counts'][$kind] > 0 && $this->giveLine(Phrase::count($dry['counts'][$kind], 'row')." $words");
            }
            foreach ($dry['shown']['refused'] ?? [] as $step) {
                $this->say((implode(' · ', $step->key) ?: 'a new one').': '.implode(' ', array_map(static fn (string $column, string $fault): string => trim("$column: $fault", ': '), array_keys($step->faults), $step->faults)));
            }

            return $this->option('send') ? $this->send($bulk, $sets, $courier, $table, $wish, $person) : $this->dry();
        } catch (CannotChange $cannot) {
            $this->say($cannot->getMessage());

            return self::REFUSED;
        }
    }

    private function dry(): int
    {
        $this->say('Nothing was sent; --send sends it.');

        return self::DONE;
    }

    /**
     * @throws CannotChange
     */
    private function send(Bulk $bulk, ChangeSets $sets, Courier $courier, ChangeTable $table, BulkWish $wish, User $person): int
    {
        $set = $bulk->keep($table, $wish, $person, 'command');
        if ($set->changes()->doesntExist()) {
            $set->delete();

            return self::DONE;
        }
        $sets->send($set, $table, $person, queue: false);
        if ($set->refresh()->state === ChangeSetState::Waiting) {
            $this->say('It waits for a second person to approve it.');

            return self::DONE;
        }
        $courier->run($set->load('endpoint.source', 'environment', 'user'));
        $this->say((string) $set->refresh()->ended);
        foreach (Refusals::lines($table, $set) as $number => $line) {
            $number > 0 && $this->giveLine(implode("\t", array_map(static fn (string $one): string => (string) preg_replace('/\s+/u', ' ', $one), $line)));
        }

        return ($set->counts()['done'] ?? 0) === array_sum($set->counts()) ? self::DONE : self::REFUSED;
    }

    private function let(ChangeTable $table, string $who): int
    {
        $role = Role::tryFrom($who);
        $person = $role === null ? User::query()->where('email', $who)->first() ?? throw new WrongUse("There is nobody with the mail address $who, and no such role.") : null;
        $right = ChangeRight::query()->create(['endpoint_id' => $table->table->endpoint_id, 'environment_id' => $table->table->environment_id, 'user_id' => $person?->id, 'role' => $role]);
        $this->say("{$right->who()} may change {$table->table->name} in {$table->table->environment->name}.");

        return self::DONE;
    }

    /**
     * @throws WrongUse
     */
    private function wish(ChangeTable $table): BulkWish
    {
        $sets = [];
        foreach ((array) $this->option('set') as $one) {
            [$column, $text] = explode('=', (string) $one, 2) + [1 => null];
            $sets[$column] = $text ?? throw new WrongUse("\"$one\" is not column=value.");
        }
        $call = is_string($this->option('call')) ? $this->option('call') : '';
        $slugs = array_map(static fn ($one): string => $one->endpoint->slug, $table->plan->actions);
        $action = $call === '' ? 0 : array_search($call, $slugs, true);
        $action === false && throw new WrongUse("There is no action \"$call\". There are: ".(implode(', ', $slugs) ?: 'none').'.');
        $do = match (true) {
            (bool) $this->option('delete') => 'delete', $call !== '' => 'call', (bool) $this->option('create') => 'put', default => 'set',
        };
        $file = is_string($this->option('file')) ? $this->option('file') : '';
        if ($do === 'set' && $sets === [] && $file === '') {
            throw new WrongUse('Say what becomes of the rows: --set column=value, --file, --delete or --call.');
        }

        return new BulkWish($file === '' ? 'rows' : 'block', (string) $this->option('where'), '', $file === '' ? [] : $this->block($file), $do, $sets, $action);
    }

    /**
     * @return list<list<string>>
     *
     * @throws WrongUse
     */
    private function block(string $file): array
    {
        $text = CallerFiles::read($file) ?? throw new WrongUse("$file cannot be read.");
        $handle = fopen('php://temp', 'w+') ?: throw new \LogicException('There is no memory.');
        fwrite($handle, (string) preg_replace('/^\xEF\xBB\xBF/', '', $text));
        rewind($handle);
        $rows = [];
        while (is_array($row = fgetcsv($handle, null, ',', '"', ''))) {
            $row === [null] || $rows[] = array_map(strval(...), $row);
        }

        return $rows;
    }
}
