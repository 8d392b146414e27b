<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\Environment;
use App\Models\Principal;
use App\Queries\QueryFault;
use App\Reservoir\ReaderAccounts;
use DeepSpring\Value\SafeNames;

/**
 * The columns that a statement gives, as columns of a table that keeps every value of them.
 */
final readonly class ResultShape
{
    private const NO_DUPLICATES = 1060;

    /** The most that MariaDB's DECIMAL holds. */
    private const DIGITS = 65;

    private const DECIMALS = 38;

    public function __construct(private ReaderAccounts $accounts)
    {
    }

    /**
     * @return list<array<string, mixed>> columns of a source file
     *
     * @throws CannotKeep
     */
    public function of(Principal $owner, Environment $environment, string $sql): array
    {
        $pdo = $this->accounts->connect($owner, $environment, (int) config('spring.query.seconds'));
        try {
            $statement = $pdo->query("select * from (\n$sql\n) as q limit 0");
        } catch (\PDOException $refused) {
            if ((int) ($refused->errorInfo[1] ?? 0) === self::NO_DUPLICATES) {
                $name = preg_match("/'([^']+)'/", (string) ($refused->errorInfo[2] ?? ''), $found) === 1 ? $found[1] : '?';

                throw CannotKeep::because("Two columns of the query are called \"$name\". Give one of them a name of its own: … as another_name.", previous: $refused);
            }

            throw CannotKeep::because(QueryFault::of($refused, $environment, $sql)->sentence, previous: $refused);
        }
        $meta = [];
        for ($place = 0; $statement !== false && $place < $statement->columnCount(); $place++) {
            $meta[] = (array) $statement->getColumnMeta($place);
        }
        $names = SafeNames::all(array_map(static fn (array $one): string => (string) $one['name'], $meta));

        return array_map(static fn (array $one, string $name): array => ['name' => $name, 'from' => "\$.$name"] + self::type($one), $meta, $names);
    }

    /**
     * @param  array<string, mixed>  $meta  of PDOStatement::getColumnMeta
     * @return array<string, mixed>
     */
    private static function type(array $meta): array
    {
        $scale = (int) ($meta['precision'] ?? 0);

        return match ((string) ($meta['native_type'] ?? '')) {
            'TINY' => ['type' => (int) ($meta['len'] ?? 0) === 1 ? 'boolean' : 'integer'],
            'SHORT', 'INT24', 'LONG', 'LONGLONG', 'YEAR' => ['type' => 'integer'],
            'NEWDECIMAL', 'DECIMAL' => ['type' => 'decimal', 'scale' => min($scale, self::DECIMALS), 'precision' => min(self::DIGITS, max(1, (int) ($meta['len'] ?? self::DIGITS)))],
            'FLOAT', 'DOUBLE' => ['type' => 'float'],
            'DATE' => ['type' => 'date'],
            'DATETIME', 'TIMESTAMP' => ['type' => 'datetime'],
            // A time too, since one that is computed can be longer than a day, which no time of day is.
            default => ['type' => 'text'],
        };
    }
}
