<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\MariaDbConnection;

/**
 * A record and what it belongs to, with one statement instead of one for each: for requests that are so short that
 * statements are most of what they take.
 */
final class Joined
{
    /**
     * The first record that is found.
     *
     * @template T of Model
     *
     * @param  Builder<T>  $query  with conditions and an order over columns that only its table has, or with its name before them
     * @param  string  ...$relations  names of relations of the kind *belongs to*
     * @return T|null
     */
    public static function first(Builder $query, string ...$relations): ?Model
    {
        $model = $query->getModel();
        $joined = clone $query;
        $related = [];
        foreach ($relations as $name) {
            $relation = $model->{$name}();
            if (! $relation instanceof BelongsTo) {
                throw new \LogicException("$name is not of the kind that can be joined.");
            }
            $related[$name] = $relation->getRelated();
            $joined->leftJoin("{$related[$name]->getTable()} as $name", "$name.{$relation->getOwnerKeyName()}", '=', $relation->getQualifiedForeignKeyName());
        }
        $parts = self::parts($joined);
        if ($parts === null) {
            return null;
        }
        $found = $model->newFromBuilder($parts[$model->getTable()] ?? [], $model->getConnectionName());
        foreach ($related as $name => $one) {
            $of = $parts[$name] ?? [];
            $found->setRelation($name, ($of[$one->getKeyName()] ?? null) === null ? null : $one->newFromBuilder($of, $one->getConnectionName()));
        }

        return $found;
    }

    /**
     * @param  Builder<covariant Model>  $query
     * @return array<string, array<string, mixed>>|null columns by table, or by the name under which it was joined
     */
    private static function parts(Builder $query): ?array
    {
        $connection = $query->getConnection();
        if (! $connection instanceof MariaDbConnection) {
            throw new \LogicException('Names of tables are asked of MariaDB.');
        }
        do {
            $pdo = $connection->getPdo();
            $pdo->setAttribute(\PDO::ATTR_FETCH_TABLE_NAMES, true);
            try {
                $row = (array) ($query->toBase()->limit(1)->get(['*'])->first() ?? []);
            } finally {
                $pdo->setAttribute(\PDO::ATTR_FETCH_TABLE_NAMES, false);
            }
            // A connection that was lost was made anew meanwhile, and that one names no tables.
        } while ($row !== [] && ! str_contains((string) array_key_first($row), '.') && $connection->getPdo() !== $pdo);
        $parts = null;
        foreach ($row as $name => $value) {
            [$table, $column] = explode('.', (string) $name, 2) + [1 => ''];
            $parts[$table][$column] = $value;
        }

        return $parts;
    }
}
