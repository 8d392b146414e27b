<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\QueryKeep;
use App\Models\SavedQuery;
use DeepSpring\Sql\NamedTables;
use Illuminate\Support\Collection;

/**
 * What reads what in an environment: views and tables of queries, and tables that were looked up for the
 * rows of others.
 */
final class ReadingOrder
{
    /** @var array<string, list<string>> name → what it reads */
    private array $reads = [];

    public function __construct(private readonly Environment $environment)
    {
        foreach (KeptTable::query()->where('environment_id', $environment->id)->whereNot('rows_of', null)->get(['name', 'rows_of']) as $table) {
            $this->reads[$table->name] = [(string) $table->rows_of];
        }
        foreach (QueryKeep::query()->where('environment_id', $environment->id)->get(['name', 'reads']) as $keep) {
            $this->reads[$keep->name] = $keep->reads;
        }
    }

    /**
     * Tables and views of the environment that a statement reads.
     *
     * @return list<string> as they are called
     */
    public function readBy(string $sql): array
    {
        $named = array_map(mb_strtolower(...), NamedTables::names($sql));

        return $named === [] ? [] : array_values(KeptTable::query()->where('environment_id', $this->environment->id)->whereIn('name', $named)->orderBy('name')->pluck('name')->map(strval(...))->all());
    }

    /**
     * A circle that would arise if a name read these: each name that reads the next, the first one again at
     * the end.
     *
     * @param  list<string>  $reads
     * @return list<string>|null
     */
    public function circle(string $name, array $reads): ?array
    {
        return $this->wayTo($name, $reads, [$name]);
    }

    /**
     * @param  list<string>  $reads
     * @param  list<string>  $way
     * @return list<string>|null
     */
    private function wayTo(string $name, array $reads, array $way): ?array
    {
        foreach ($reads as $next) {
            if ($next === $name) {
                return [...$way, $name];
            }
            $found = in_array($next, $way, true) ? null : $this->wayTo($name, $this->reads[$next] ?? [], [...$way, $next]);
            if ($found !== null) {
                return $found;
            }
        }

        return null;
    }

    /**
     * Views and tables of queries that read one of these themselves.
     *
     * @param  list<string>  $names
     * @return Collection<int, QueryKeep>
     */
    public function keepsThatRead(array $names): Collection
    {
        return QueryKeep::query()->with('savedQuery')->where('environment_id', $this->environment->id)->orderBy('name')->get()
            ->filter(static fn (QueryKeep $keep): bool => array_intersect($keep->reads, $names) !== [])->values();
    }

    /**
     * Saved queries that read one of these.
     *
     * @param  list<string>  $names
     * @return Collection<int, SavedQuery>
     */
    public static function queriesThatRead(array $names): Collection
    {
        $names = array_map(mb_strtolower(...), $names);

        return SavedQuery::query()->with('user')->orderBy('name')->get()
            ->filter(static fn (SavedQuery $query): bool => array_intersect(array_map(mb_strtolower(...), NamedTables::names($query->sql)), $names) !== [])->values();
    }
}
