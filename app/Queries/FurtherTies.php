<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\TableProfile;
use App\OData\ServiceModels;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\Sql\JoinTie;
use Illuminate\Database\Eloquent\Collection;

/**
 * Tables that belong together by something else than a key that a column is named like: what a service says of its
 * navigation, and columns of one name whose values can be the same.
 */
final readonly class FurtherTies
{
    public const SAME_NAME = 'a column of the same name';

    /** Names that many tables have, whatever stands in them. */
    private const GENERIC = ['id', 'key', 'name', 'title', 'label', 'status', 'state', 'type', 'kind', 'note', 'notes', 'remarks', 'comment', 'description', 'about', 'created', 'created_at', 'changed', 'changed_at', 'updated', 'updated_at', 'deleted', 'version', 'position', 'line', 'sort', 'value', 'amount', 'quantity', 'count', 'url', 'address', 'email', 'phone'];

    private const TYPES = ['text', 'integer', 'uuid'];

    /** Columns of a table that are looked for elsewhere. */
    private const COLUMNS = 12;

    /** Tables that are proposed by name. */
    private const TABLES = 8;

    public function __construct(private Environment $environment, private ServiceModels $services)
    {
    }

    /**
     * Along navigation that names the properties which are the same (OData CSDL 4.01, 8.5 "Referential Constraint").
     *
     * @return list<JoinTie>
     */
    public function navigation(KeptTable $table): array
    {
        $file = $table->is_branch || $table->endpoint->source->of_query ? null : $table->endpoint->source->published();
        $set = $file === null || ! Chosen::isOData($file->document) ? null : $file->endpoint($table->endpoint->slug)->endpoint['entity_set'] ?? null;
        $model = $set === null ? null : $this->services->of($table->endpoint->source, $this->environment);
        if ($model === null) {
            return [];
        }
        $others = KeptTable::query()->with('endpoint')->where('environment_id', $this->environment->id)->where('is_branch', false)->whereNot('name', $table->name)
            ->whereIn('endpoint_id', $table->endpoint->source->endpoints()->pluck('id'))->orderBy('name')->get();
        $ties = [];
        foreach ([[$table, null], ...$others->map(static fn (KeptTable $other): array => [$other, $table])->all()] as [$from, $only]) {
            $name = $file->endpoint($from->endpoint->slug)->endpoint['entity_set'] ?? '';
            $own = $model->set($name);
            foreach ($own === null ? [] : $model->typeOf($own)->navigations ?? [] as $navigation) {
                $target = $model->target($own, $navigation->name);
                foreach ($only === null ? $others->all() : [$only] as $other) {
                    $is = ($file->endpoint($other->endpoint->slug)->endpoint['entity_set'] ?? '') === $target?->name;
                    $pairs = $is && $navigation->constraints !== [] ? self::pairs($from, $other, $navigation->constraints) : null;
                    if ($pairs !== null) {
                        $ties[] = $only === null ? new JoinTie($other->name, $pairs, "by $navigation->name of the service") : new JoinTie($from->name, array_map(array_reverse(...), $pairs), "by $navigation->name of the service");
                    }
                }
            }
        }

        return $ties;
    }

    /**
     * @param  array<string, string>  $constraints  property here → property there
     * @return list<array{string, string}>|null null where a column is missing
     */
    private static function pairs(KeptTable $here, KeptTable $there, array $constraints): ?array
    {
        $column = static fn (KeptTable $table, string $property): ?string => array_column($table->columns, 'name', 'from')["$.$property"] ?? null;
        $pairs = [];
        foreach ($constraints as $own => $other) {
            $pairs[] = [$column($here, (string) $own), $column($there, $other)];
        }

        return array_filter($pairs, static fn (array $pair): bool => in_array(null, $pair, true)) === [] ? array_map(static fn (array $pair): array => [(string) $pair[0], (string) $pair[1]], $pairs) : null;
    }

    /**
     * By columns of the same name and type, unless what is known of their values speaks against it.
     *
     * @return list<JoinTie>
     */
    public function sameName(KeptTable $table): array
    {
        $own = array_filter(array_column($table->columns, 'type', 'name'), static fn (string $type, string $name): bool => in_array($type, self::TYPES, true) && ! in_array($name, self::GENERIC, true), ARRAY_FILTER_USE_BOTH);
        $own = array_slice($own, 0, self::COLUMNS);
        if ($own === []) {
            return [];
        }
        /** @var Collection<int, KeptTable> $others */
        $others = KeptTable::query()->where('environment_id', $this->environment->id)->whereNot('name', $table->name)
            ->where(static function ($any) use ($own): void {
                foreach (array_keys($own) as $name) {
                    $any->orWhereRaw('instr(cast(columns as binary), cast(? as binary)) > 0', ["\"name\":\"$name\""]);
                }
            })->orderBy('name')->limit(self::TABLES)->get();
        $ties = [];
        foreach ($others as $other) {
            foreach (array_intersect_assoc(array_column($other->columns, 'type', 'name'), $own) as $name => $type) {
                if ($this->mayMeet($table, $other, (string) $name)) {
                    $ties[] = new JoinTie($other->name, [[(string) $name, (string) $name]], self::SAME_NAME);
                }
            }
        }

        return $ties;
    }

    /**
     * Whether values of two columns can be the same, as far as their profiles say.
     */
    private function mayMeet(KeptTable $one, KeptTable $other, string $column): bool
    {
        [$here, $there] = array_map(static fn (KeptTable $table): ?array => array_column(TableProfile::of($table)->first()->columns ?? [], null, 'name')[$column] ?? null, [$one, $other]);
        if (! isset($here['least'], $here['most'], $there['least'], $there['most'])) {
            return true;
        }
        $isLess = static fn (string $a, string $b): bool => is_numeric($a) && is_numeric($b) ? (float) $a < (float) $b : strcmp($a, $b) < 0;

        return ! $isLess((string) $here['most'], (string) $there['least']) && ! $isLess((string) $there['most'], (string) $here['least']);
    }
}
