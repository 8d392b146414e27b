<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Reservoir\StatementPlan;
use App\Reservoir\StatementPlans;

/**
 * EXPLAIN EXTENDED: which index is used, and the statement in the form that the optimizer gave it, with
 * every name resolved.
 */
final class MariaDbStatementPlans implements StatementPlans
{
    /** The note that holds the statement. */
    private const STATEMENT = 1003;

    public function of(\PDO $reader, Environment $environment, string $sql): ?StatementPlan
    {
        if (preg_match('/^[\s(]*(?:select|with)\b/i', $sql) !== 1) {
            return null;
        }
        try {
            $steps = $this->all($reader, "explain extended $sql");
            foreach ($this->all($reader, 'show warnings') as $note) {
                if ((int) $note['Code'] === self::STATEMENT) {
                    return $this->read($reader, $environment->schema(), $steps, new NormalForm((string) $note['Message'], $environment->schema()));
                }
            }
        } catch (\PDOException) {
            // The statement itself says what is wrong with it.
        }

        return null;
    }

    /**
     * @param  list<array<string, string|null>>  $steps
     */
    private function read(\PDO $reader, string $schema, array $steps, NormalForm $form): StatementPlan
    {
        $indexes = [];
        foreach ($steps as $step) {
            foreach (explode(',', (string) ($step['key'] ?? '')) as $name) {
                $table = $form->tables[(string) ($step['table'] ?? '')] ?? null;
                if ($table !== null && IndexName::isOne($name)) {
                    $indexes[$table][$name] = IndexName::columns($reader, $schema, $table, $name);
                }
            }
        }

        return new StatementPlan($form->uses(), array_map(array_values(...), $indexes), array_values(array_unique($form->tables)));
    }

    /**
     * @return list<array<string, string|null>>
     */
    private function all(\PDO $reader, string $sql): array
    {
        $statement = $reader->query($sql);

        return $statement === false ? [] : $statement->fetchAll(\PDO::FETCH_ASSOC);
    }
}
