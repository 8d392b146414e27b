<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Models\Consumer;
use App\Models\Environment;
use App\Models\Feed;
use App\Models\Role;
use App\Models\User;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use App\Outlets\OutletsFile;
use App\Outlets\OutletsImport;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

final class FeedCommand extends SpringCommand
{
    protected $signature = 'spring:feed {do=list : list, publish, off, delete, key, export, compare or import} {name? : A feed, like loans-open or loans-open/v2; with publish a feed or a table; with key a reader; with compare and import a file}
        {--as= : With publish: the name in the address} {--fields= : With publish: columns, with commas} {--where= : With publish: rows for which this holds} {--key= : With publish: columns that tell rows apart}
        {--feed=* : With key: feeds that the reader may read} {--insist : With import: although readers lose something} {--until= : With key: the last day on which it opens anything} {--by= : Mail address of whoever answers for it} {--environment= : Environment}';

    protected $description = 'Lists feeds, publishes one, turns it off, gives a key, writes all of them as a file and takes one over';

    public function work(FeedBook $book, KeyRing $keys, OutletsImport $import): int
    {
        $do = (string) $this->argument('do');
        try {
            return match ($do) {
                'list' => $this->list(),
                'publish' => $this->publish($book),
                'off' => $this->off($book),
                'delete' => $this->remove($book),
                'key' => $this->key($keys),
                'export' => $this->export(),
                'compare', 'import' => $this->take($import, $do === 'import'),
                default => throw new WrongUse("There is no \"$do\" here; there are list, publish, off, delete, key, export, compare and import."),
            };
        } catch (CannotPublish $cannot) {
            $this->say($cannot->getMessage());

            return self::REFUSED;
        }
    }

    private function list(): int
    {
        foreach (Feed::query()->with('environment', 'user')->orderBy('name')->orderBy('version')->get() as $feed) {
            $this->giveLine(implode("\t", [$feed->path(), $feed->fault !== null ? 'has a fault' : ($feed->is_on ? 'on' : 'off'), $feed->reads, $feed->environment->slug, Phrase::count($feed->consumers()->count(), 'reader'), $feed->user->email]));
        }

        return self::DONE;
    }

    private function publish(FeedBook $book): int
    {
        $name = $this->name();
        $feed = $this->found($name);
        $by = $this->by($feed?->user);
        if ($feed === null) {
            $table = $this->keptTable($name) ?? throw $this->noTable($name);
            $feed = $book->draft($table, $by);
        }
        try {
            $book->change($feed, array_filter([
                'name' => $this->option('as'), 'condition' => $this->option('where'), 'key' => $this->option('key') === null ? null : self::names((string) $this->option('key')), 'columns' => $this->option('fields') === null ? null : $this->columns($feed, self::names((string) $this->option('fields'))),
            ], static fn (mixed $value): bool => $value !== null), $by);
            $book->publish($feed, $by);
        } catch (CannotPublish $cannot) {
            $feed->wasRecentlyCreated && $book->delete($feed, $by);

            throw $cannot;
        }
        $this->say("{$feed->path()} can be read at:");
        $this->giveLine(route('feeds.version', ['version' => $feed->version, 'file' => $feed->name]));

        return self::DONE;
    }

    /**
     * @param  list<string>  $names
     * @return list<array{name: string, column: string}>
     */
    private function columns(Feed $feed, array $names): array
    {
        $known = array_column($feed->columns, null, 'name');

        return array_map(static fn (string $name): array => $known[$name] ?? throw new WrongUse("\"$name\" is no column of $feed->reads. It has ".implode(', ', array_keys($known)).'.'), $names);
    }

    private function off(FeedBook $book): int
    {
        $feed = $this->feed();
        $book->turnOff($feed, $this->by($feed->user));
        $this->say("{$feed->path()} is off.");

        return self::DONE;
    }

    private function remove(FeedBook $book): int
    {
        $feed = $this->feed();
        $book->delete($feed, $this->by($feed->user));
        $this->say("{$feed->path()} is deleted.");

        return self::DONE;
    }

    private function key(KeyRing $keys): int
    {
        $name = $this->name();
        $until = (string) $this->option('until');
        if ($until !== '' && (preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $until, $part) !== 1 || ! checkdate((int) $part[2], (int) $part[3], (int) $part[1]))) {
            throw new WrongUse("\"$until\" is no day like 2031-09-01.");
        }
        $feeds = array_map(fn (mixed $one): Feed => $this->found((string) $one) ?? throw new WrongUse("There is no feed \"$one\". See: ./spring feed list"), (array) $this->option('feed'));
        $consumer = Consumer::query()->where('name', $name)->first() ?? Consumer::query()->create(['user_id' => $this->by()->id, 'name' => $name]);
        $consumer->feeds()->syncWithoutDetaching(array_map(static fn (Feed $feed): int => $feed->id, $feeds));
        $plain = $keys->give($consumer, $until === '' ? null : Carbon::parse($until, 'UTC')->endOfDay(), $this->by($consumer->user));
        $this->say("A key for $consumer->name, which reads ".($consumer->feeds()->get()->map(static fn (Feed $feed): string => $feed->path())->join(', ') ?: 'no feed yet').'. It is not shown again.');
        $this->giveLine($plain);

        return self::DONE;
    }

    private function export(): int
    {
        $asked = (string) $this->option('environment');
        $environment = $asked === '' ? null : Environment::named($asked) ?? throw new WrongUse("There is no environment \"$asked\".");
        $this->giveLine(rtrim(OutletsFile::now($environment)->text()));

        return self::DONE;
    }

    /**
     * @throws CannotPublish
     */
    private function take(OutletsImport $import, bool $isForReal): int
    {
        $text = $this->name() === '-' ? stream_get_contents(STDIN) : CallerFiles::read($this->path($this->name()));
        $file = OutletsFile::read(is_string($text) ? $text : throw new WrongUse("{$this->name()} cannot be read."));
        $changes = $isForReal ? $import->take($file, $this->by(User::query()->where('role', Role::Administrator)->whereNull('off_at')->orderBy('id')->first()), (bool) $this->option('insist')) : $file->changes(OutletsFile::now());
        array_map($this->giveLine(...), $changes);
        $this->say($changes === [] ? 'Nothing differs.' : Phrase::count(count($changes), 'change').($isForReal ? ' taken over.' : ' would be taken over.'));

        return self::DONE;
    }

    private function name(): string
    {
        $name = trim((string) $this->argument('name'));

        return $name !== '' ? $name : throw new WrongUse('Say which one.');
    }

    private function feed(): Feed
    {
        return $this->found($this->name()) ?? throw new WrongUse("There is no feed \"{$this->name()}\". See: ./spring feed list");
    }

    /**
     * `loans-open`, `v2/loans-open` or `loans-open/v2`; without a version the newest.
     */
    private function found(string $name): ?Feed
    {
        [$slug, $version] = preg_match('~^(?:v(\d+)/)?([a-z0-9-]+?)(?:/v(\d+))?$~D', $name, $part, PREG_UNMATCHED_AS_NULL) === 1 ? [$part[2], $part[1] ?? $part[3]] : [$name, null];

        $feeds = Feed::query()->with('environment', 'user')->where('name', $slug)->orderBy('version')->get();

        return $version === null ? $feeds->last() : $feeds->firstWhere('version', (int) $version);
    }

    private function by(?User $otherwise = null): User
    {
        $mail = (string) $this->option('by');

        return match (true) {
            $mail !== '' => User::query()->where('email', $mail)->first() ?? throw new WrongUse("Nobody here has the mail address $mail."),
            $otherwise !== null => $otherwise,
            default => throw new WrongUse('Say who answers for it: --by with a mail address.'),
        };
    }

    /**
     * @return list<string>
     */
    private static function names(string $text): array
    {
        return array_values(array_filter(array_map(trim(...), explode(',', $text)), static fn (string $one): bool => $one !== ''));
    }
}
