<?php

declare(strict_types=1);

namespace App\Http\Find;

use App\Models\Consumer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;

/**
 * Looks through everything that a person can go to or do, by a part of its name.
 */
final class Finder
{
    /** Of each kind. */
    private const MOST = 20;

    /**
     * @param  string  $here  path of the screen that is open
     * @return list<FoundItem> what begins with the text first
     */
    public function find(User $person, Environment $environment, string $text, string $here = ''): array
    {
        $actions = Screens::actions($person, $here);
        if ($text === '') {
            return array_map(static fn (array $one): FoundItem => $one[0], [...$actions, ...Screens::of($person)]);
        }
        $found = array_map(static fn (array $one): FoundItem => $one[0], array_filter(
            [...$actions, ...Screens::of($person)],
            static fn (array $one): bool => mb_stripos("{$one[0]->name} {$one[1]}", $text) !== false,
        ));
        if ($person->can('viewAny', Source::class)) {
            array_push($found, ...$this->sources($text), ...$this->endpoints($text));
        }
        array_push($found, ...$this->tables($environment, $text), ...$this->queries($person, $text), ...$this->outlets($environment, $text));
        if ($person->can('viewAny', Source::class)) {
            array_push($found, ...$this->runs($environment, $text));
        }
        $rank = static fn (FoundItem $one): int => mb_stripos($one->name, $text) === 0 ? 0 : 1;
        usort($found, static fn (FoundItem $a, FoundItem $b): int => $rank($a) <=> $rank($b));

        return $found;
    }

    /**
     * @return list<FoundItem>
     */
    private function sources(string $text): array
    {
        $rows = Source::described()->whereRaw(self::fold('name'), [self::like($text)])->orderBy('name')->limit(self::MOST)->get();

        return array_values($rows->map(static fn (Source $source): FoundItem => new FoundItem('source', $source->name, '', route('sources.show', $source)))->all());
    }

    /**
     * @return list<FoundItem>
     */
    private function endpoints(string $text): array
    {
        $rows = Endpoint::query()->with('source')->whereHas('source', static fn ($source) => $source->where('of_query', false))->whereRaw(self::fold('name'), [self::like($text)])->orderBy('name')->limit(self::MOST)->get();

        return array_values($rows->map(static fn (Endpoint $endpoint): FoundItem => new FoundItem('endpoint', $endpoint->name, $endpoint->source->name, route('endpoints.show', [$endpoint->source, $endpoint])))->all());
    }

    /**
     * Tables by their name, then those that have a column of it.
     *
     * @return list<FoundItem>
     */
    private function tables(Environment $environment, string $text): array
    {
        $found = [];
        $columns = [];
        $rows = KeptTable::query()->where('environment_id', $environment->id)
            ->where(static fn ($either) => $either->whereRaw(self::fold('name'), [self::like($text)])->orWhereRaw('convert(coalesce(`texts`, \'\') using utf8mb4) collate utf8mb4_general_ci like ?', [self::likeInJson($text)])->orWhereRaw('convert(`columns` using utf8mb4) collate utf8mb4_general_ci like ?', [self::likeInJson($text)]))
            ->orderBy('name')->limit(5 * self::MOST)->get();
        foreach ($rows as $table) {
            if (mb_stripos(implode("\n", [$table->name, ...array_values($table->texts ?? [])]), $text) !== false && count($found) < self::MOST) {
                $found[] = new FoundItem('table', $table->name, $table->title(), route('tables.show', $table->name));
            }
            foreach ($table->keptColumns() as $column) {
                if (mb_stripos("$column->name\n{$column->about()}", $text) !== false && count($columns) < self::MOST) {
                    $columns[] = new FoundItem('column', $column->name, implode(' · ', array_filter([$table->name, mb_strimwidth($column->about(), 0, 70, '…')])), route('tables.show', $table->name));
                }
            }
        }

        return [...$found, ...$columns];
    }

    /**
     * @return list<FoundItem>
     */
    private function queries(User $person, string $text): array
    {
        $rows = SavedQuery::seenBy($person)->whereRaw(self::fold('name'), [self::like($text)])->orderBy('name')->limit(self::MOST)->get();

        return array_values($rows->map(static fn (SavedQuery $query): FoundItem => new FoundItem('query', $query->name, '', route('queries.show', $query)))->all());
    }

    /**
     * Feeds by their name or title, and those who read them with a key.
     *
     * @return list<FoundItem>
     */
    private function outlets(Environment $environment, string $text): array
    {
        $feeds = Feed::query()->where('environment_id', $environment->id)->where(static fn ($either) => $either->whereRaw(self::fold('name'), [self::like($text)])->orWhereRaw(self::fold('title'), [self::like($text)]))->orderBy('name')->orderBy('version')->limit(self::MOST)->get();
        $readers = Consumer::query()->whereRaw(self::fold('name'), [self::like($text)])->orderBy('name')->limit(self::MOST)->get();

        return [
            ...array_values($feeds->map(static fn (Feed $feed): FoundItem => new FoundItem('feed', $feed->name, implode(' · ', array_filter(["version $feed->version", $feed->title])), route('outlets.feed', $feed)))->all()),
            ...array_values($readers->map(static fn (Consumer $reader): FoundItem => new FoundItem('reader', $reader->name, $reader->purpose, route('outlets.readers.show', $reader)))->all()),
        ];
    }

    /**
     * By number, or by a table that was filled.
     *
     * @return list<FoundItem>
     */
    private function runs(Environment $environment, string $text): array
    {
        $rows = Run::query()->with('endpoint')->where('environment_id', $environment->id)
            ->where(static fn ($either) => ctype_digit($text) ? $either->where('id', (int) substr($text, 0, 18)) : $either->whereRaw(self::fold('tables'), [self::like($text)]))
            ->latest('id')->limit(5)->get();

        return array_values($rows->map(static fn (Run $run): FoundItem => new FoundItem('run', "Run $run->id", $run->endpoint->name, route('runs.show', $run)))->all());
    }

    private static function fold(string $column): string
    {
        return "`$column` collate utf8mb4_general_ci like ?";
    }

    /**
     * In JSON letters beyond ASCII, quotes and slashes are escaped: anything may stand for them, and what was found
     * is looked at again.
     */
    private static function likeInJson(string $text): string
    {
        return (string) preg_replace('~[^\x20-\x7e]|["/\\\\]{1,2}(?![%_])~u', '%', self::like($text));
    }

    private static function like(string $text): string
    {
        return '%'.addcslashes($text, '%_\\').'%';
    }
}
