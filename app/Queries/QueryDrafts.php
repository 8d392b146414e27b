<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\QueryDraft;
use App\Models\SavedQuery;
use App\Models\User;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * SQL that was written and not saved, kept as it is typed. Each tab has a draft of its own as soon as two
 * tabs write, so neither writes over the other.
 */
final class QueryDrafts
{
    /** Days that one stays which nobody touches. */
    public const DAYS = 90;

    /**
     * @param  int|null  $id  the draft that a tab has in hand
     * @param  int  $revision  of it, as that tab knows it
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $parameters  by name
     */
    public function write(User $person, ?SavedQuery $query, ?int $id, int $revision, int $basedOn, string $sql, array $parameters = []): QueryDraft
    {
        return DB::transaction(static function () use ($person, $query, $id, $revision, $basedOn, $sql, $parameters): QueryDraft {
            $draft = $id === null ? null : QueryDraft::query()->where('user_id', $person->id)->lockForUpdate()->find($id);
            if ($draft === null || $draft->revision !== $revision) {
                return QueryDraft::query()->create(['user_id' => $person->id, 'query_id' => $query?->id, 'sql' => $sql, 'parameters' => $parameters, 'based_on' => $basedOn, 'revision' => 1]);
            }
            $draft->fill(['sql' => $sql, 'parameters' => $parameters, 'revision' => $draft->revision + 1])->save();

            return $draft;
        });
    }

    /**
     * What somebody wrote last into a query and has not saved.
     */
    public function of(User $person, SavedQuery $query): ?QueryDraft
    {
        return QueryDraft::query()->where(['user_id' => $person->id, 'query_id' => $query->id])->latest('updated_at')->first();
    }

    public function find(User $person, int $id): ?QueryDraft
    {
        return QueryDraft::query()->where('user_id', $person->id)->find($id);
    }

    public function discard(User $person, int $id): void
    {
        QueryDraft::query()->where('user_id', $person->id)->whereKey($id)->delete();
    }

    public static function tidy(): int
    {
        return QueryDraft::query()->where('updated_at', '<', Carbon::now()->subDays(self::DAYS))->delete();
    }
}
