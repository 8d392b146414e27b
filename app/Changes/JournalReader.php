<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Environment;
use App\Models\JournalEntry;
use App\Models\KeptTable;
use App\Models\User;
use Illuminate\Database\Eloquent\Builder;

/**
 * The journal as somebody may read it: builders all of it, others what they changed themselves and what was changed in
 * tables that they may change.
 */
final readonly class JournalReader
{
    private const HEADER = ['at', 'person', 'via', 'environment', 'source', 'endpoint', 'table', 'kind', 'record', 'before', 'after', 'outcome', 'status', 'milliseconds', 'reason', 'request', 'answer'];

    /**
     * @param  array<string, string>  $wanted
     * @return Builder<JournalEntry>
     */
    public function found(User $person, Environment $environment, array $wanted): Builder
    {
        $like = static fn (string $text): string => '%'.addcslashes($text, '%_\\').'%';

        return JournalEntry::query()->where('environment', $environment->slug)
            ->when(! $person->role->mayBuild(), fn (Builder $query) => $query->where(fn (Builder $either) => $either->where('person', $person->id)->orWhereIn('table', $this->tables($person, $environment))))
            ->when($wanted['table'] ?? null, static fn (Builder $query, string $table) => $query->where('table', $table))
            ->when($wanted['record'] ?? null, static fn (Builder $query, string $record) => $query->where('record', $record))
            ->when($wanted['person'] ?? null, static fn (Builder $query, string $name) => $query->where('person_name', 'like', $like($name)))
            ->when($wanted['outcome'] ?? null, static fn (Builder $query, string $outcome) => $query->where('outcome', $outcome))
            ->when($wanted['since'] ?? null, static fn (Builder $query, string $day) => preg_match('/^\d{4}-\d\d-\d\d$/D', $day) === 1 ? $query->where('at', '>=', $day) : $query)
            ->when($wanted['q'] ?? null, static fn (Builder $query, string $text) => $query->where(static fn (Builder $either) => $either->where('record', $text)->orWhere('person_name', 'like', $like($text))->orWhere('table', 'like', $like($text))->orWhere('reason', 'like', $like($text))->orWhere('after_', 'like', $like($text))))
            ->latest('id');
    }

    public function table(JournalEntry $entry): ?KeptTable
    {
        $environment = Environment::named($entry->environment);

        return $environment === null ? null : KeptTable::query()->with('endpoint.source', 'environment')->where(['environment_id' => $environment->id, 'name' => $entry->table])->first();
    }

    /**
     * Lines of a CSV file, with a header.
     *
     * @param  array<string, string>  $wanted
     * @return \Generator<int, list<string>>
     */
    public function lines(User $person, Environment $environment, array $wanted): \Generator
    {
        yield self::HEADER;
        foreach ($this->found($person, $environment, $wanted)->lazyByIdDesc(500) as $one) {
            yield [$one->at->toIso8601ZuluString('microsecond'), $one->person_name, $one->via, $one->environment, $one->source, $one->endpoint, $one->table, $one->kind, $one->record, (string) json_encode($one->before_, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), (string) json_encode($one->after_, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), $one->outcome, (string) $one->status, (string) $one->milliseconds, $one->reason, $one->request, $one->answer];
        }
    }

    /**
     * @return list<string>
     */
    private function tables(User $person, Environment $environment): array
    {
        return array_values(KeptTable::query()->with('endpoint')->where(['environment_id' => $environment->id, 'is_branch' => false, 'is_view' => false])->whereHas('endpoint', static fn ($endpoint) => $endpoint->whereIn('id', \App\Models\ChangeRight::query()->where('environment_id', $environment->id)->select('endpoint_id')))->get()
            ->reject(static fn (KeptTable $table): bool => ChangeRights::of($person, $table->endpoint, $environment)->isNone())->pluck('name')->map(strval(...))->all());
    }
}
