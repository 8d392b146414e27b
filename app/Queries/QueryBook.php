<?php

declare(strict_types=1);

namespace App\Queries;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\QueryVersion;
use App\Models\SavedQuery;
use App\Models\User;
use App\Queries\Keeping\CannotKeep;
use App\Queries\Keeping\QueryKeeping;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Facades\DB;

/**
 * Saved queries and their versions.
 */
final readonly class QueryBook
{
    public const LONGEST_NAME = 190;

    private const LABELS = 12;

    public function __construct(private QueryKeeping $keeping, private AuditLog $log)
    {
    }

    /**
     * @param  array{name: string, sql: string, description?: string|null, labels?: list<string>, parameters?: array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>, is_private?: bool}  $given
     *
     * @throws CannotSave
     */
    public function add(array $given, User $owner): SavedQuery
    {
        return $this->once($given['name'], static fn (): SavedQuery => DB::transaction(static fn (): SavedQuery => SavedQuery::query()->create($given + ['user_id' => $owner->id])));
    }

    /**
     * Another SQL makes another version, which what is kept of the query follows.
     *
     * @param  array{name: string, sql: string, description?: string|null, labels?: list<string>, parameters?: array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>, is_private?: bool}  $given
     * @param  int|null  $seen  the version that was changed; null for whichever stands
     * @return list<string> what is kept of it and could not follow
     *
     * @throws CannotSave where somebody saved another version meanwhile
     */
    public function change(SavedQuery $query, array $given, User $by, ?int $seen = null): array
    {
        $isNew = $this->once($given['name'], static fn (): bool => DB::transaction(static function () use ($query, $given, $by, $seen): bool {
            $query->setRawAttributes(SavedQuery::query()->lockForUpdate()->findOrFail($query->id)->getAttributes(), true);
            if ($seen !== null && $seen !== $query->version && $query->sql !== $given['sql']) {
                throw CannotSave::overtaken($query);
            }
            if (($given['is_private'] ?? false) && $query->keeps()->exists()) {
                throw CannotSave::because('The query is kept as a table that everybody can read. Stop keeping it before you keep the query to yourself.', 'is_private');
            }
            $isNew = $query->sql !== $given['sql'] || ($query->parameters ?? []) != ($given['parameters'] ?? $query->parameters ?? []);
            $query->fill($given + ['name_key' => SavedQuery::keyOf($given['name'], $given['is_private'] ?? $query->is_private, $query->user_id)]);
            if ($isNew) {
                $query->version++;
                self::version($query, $by);
            }
            $query->save();

            return $isNew;
        }));

        return $isNew ? $this->keeping->follow($query, $by) : [];
    }

    /**
     * With what is kept of it.
     *
     * @throws CannotKeep while it is being read
     */
    public function delete(SavedQuery $query, User $by): void
    {
        foreach ($query->keeps()->with('environment', 'source', 'savedQuery')->get() as $keep) {
            $this->keeping->stop($keep, $by);
        }
        $query->delete();
        $this->log->note(Action::QueryDeleted, $query->name, '', $by);
    }

    /**
     * Labels as they are typed: separated by commas, each once.
     *
     * @return list<string>
     */
    public static function labels(string $typed): array
    {
        $labels = array_filter(array_map(static fn (string $one): string => mb_substr(trim($one), 0, 40), explode(',', $typed)), static fn (string $one): bool => $one !== '');

        return array_slice(array_values(array_unique($labels)), 0, self::LABELS);
    }

    private static function version(SavedQuery $query, User $by): void
    {
        QueryVersion::query()->create(['query_id' => $query->id, 'number' => $query->version, 'sql' => $query->sql, 'parameters' => $query->parameters, 'user_id' => $by->id]);
    }

    /**
     * @template T
     *
     * @param  \Closure(): T  $do
     * @return T
     *
     * @throws CannotSave
     */
    private function once(string $name, \Closure $do): mixed
    {
        if (trim($name) === '') {
            throw CannotSave::because('Give the query a name to save it.');
        }
        try {
            return $do();
        } catch (UniqueConstraintViolationException $taken) {
            throw CannotSave::because("There is a query \"$name\" already. Give this one another name.", previous: $taken);
        }
    }
}
