<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\SafeNames;

/**
 * Which names of tables are taken: by what other endpoints keep, in any environment, and by what others of
 * the same source are about to.
 */
final class TableNames
{
    /** Room that a number at the end needs. */
    private const LONGEST = 60;

    /** @var array<string, string> name → who has it, in words */
    private readonly array $taken;

    private readonly int $endpoint;

    public function __construct(Endpoint $row, SourceFile $file)
    {
        $this->endpoint = $row->id;
        $taken = [];
        foreach ($file->document['endpoints'] ?? [] as $one) {
            foreach (isset($one['flatten']) && $one['slug'] !== $row->slug ? Plan::tablesIn($one['flatten']) : [] as $table) {
                $taken[SafeNames::clean((string) ($table['table'] ?? ''))] = (string) $one['name'];
            }
        }
        foreach (KeptTable::query()->select(['id', 'name', 'endpoint_id', 'environment_id'])->with(['endpoint.source', 'environment'])->where('endpoint_id', '!=', $row->id)->get() as $kept) {
            $taken[$kept->name] = self::keeper($kept)." in {$kept->environment->name}";
        }
        $this->taken = $taken;
    }

    /**
     * Who has a name already, in words; null where it is free.
     */
    public function holder(string $name): ?string
    {
        return $this->taken[SafeNames::clean($name)] ?? null;
    }

    /**
     * The name itself where it is free, or with the first number that makes it so.
     *
     * @param  list<string>  $besides  names that are not free either
     */
    public function free(string $name, array $besides = []): string
    {
        $clean = SafeNames::clean($name);
        for ($free = $clean, $number = 2; isset($this->taken[$free]) || in_array($free, $besides, true); $number++) {
            $free = substr($clean, 0, self::LONGEST)."_$number";
        }

        return $free;
    }

    /**
     * A plan whose tables have free names.
     *
     * @param  array<string, mixed>  $flatten
     * @return array<string, mixed>
     */
    public function freed(array $flatten): array
    {
        $used = [];

        return $this->walk($flatten, $used);
    }

    /**
     * The tables of a plan whose names are taken.
     *
     * @param  array<string, mixed>  $flatten
     * @return array<string, array{holder: string, free: string}> by the name as it stands there
     */
    public function conflicts(array $flatten): array
    {
        $found = [];
        $names = array_map(strval(...), array_filter(array_column(Plan::tablesIn($flatten), 'table')));
        foreach ($names as $name) {
            $holder = $this->holder($name);
            if ($holder !== null) {
                $found[$name] = ['holder' => $holder, 'free' => $this->free($name, array_map(SafeNames::clean(...), $names))];
            }
        }

        return $found;
    }

    /**
     * The tables of a plan that another endpoint keeps in an environment, which refuses to be read into them.
     *
     * @param  array<string, mixed>  $flatten
     * @return array<string, string> name → a sentence that says so
     */
    public function keptElsewhere(array $flatten, Environment $environment): array
    {
        $found = [];
        foreach (array_filter(array_column(Plan::tablesIn($flatten), 'table')) as $name) {
            $there = self::ofOthers(SafeNames::clean((string) $name), $this->endpoint, $environment);
            if ($there !== null) {
                $found[$there->name] = self::refusal($there, $environment);
            }
        }

        return $found;
    }

    /**
     * The table of that name which an endpoint other than this one keeps.
     */
    public static function ofOthers(string $name, int $endpoint, Environment $environment): ?KeptTable
    {
        return KeptTable::query()->with('endpoint.source')->where('environment_id', $environment->id)->where('endpoint_id', '!=', $endpoint)->where('name', $name)->first();
    }

    public static function refusal(KeptTable $there, Environment $environment): string
    {
        return "A table $there->name is kept in $environment->name already, by ".self::keeper($there).'. Give this one another name under Flatten.';
    }

    private static function keeper(KeptTable $table): string
    {
        return "{$table->endpoint->source->name} › {$table->endpoint->name}";
    }

    /**
     * @param  array<string, mixed>  $table
     * @param  list<string>  $used
     * @return array<string, mixed>
     */
    private function walk(array $table, array &$used): array
    {
        if (isset($table['table'])) {
            $free = $this->free((string) $table['table'], $used);
            $used[] = $free;
            $table['table'] = $free === SafeNames::clean((string) $table['table']) ? $table['table'] : $free;
        }
        foreach ($table['branches'] ?? [] as $number => $branch) {
            $table['branches'][$number] = $this->walk($branch, $used);
        }

        return $table;
    }
}
