<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\StatementValues;

/**
 * Columns of what is kept of a query that a changed text would no longer give, and who reads them.
 */
final readonly class ColumnLosses
{
    public function __construct(private ResultShape $shape)
    {
    }

    /**
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $parameters
     * @return list<string> a sentence for each column; none where nobody reads it, or the text gives no columns at all
     */
    public function of(SavedQuery $query, string $sql, array $parameters, User $reader): array
    {
        $sentences = [];
        foreach ($query->keeps()->with('environment')->get() as $keep) {
            $kept = KeptTable::query()->where(['environment_id' => $keep->environment_id, 'name' => $keep->name])->first();
            try {
                $now = array_column($this->shape->of($query->user, $keep->environment, StatementValues::bound($sql, $parameters, [], $query->user)->sql), 'name');
            } catch (CannotKeep|QueryRefused) {
                // It stays as it is then, which is said after it was saved.
                continue;
            }
            $readers = ReadingOrder::queriesThatRead([$keep->name])->whereNotIn('id', [$query->id]);
            foreach (array_diff(array_column($kept->columns ?? [], 'name'), $now) as $column) {
                $of = $readers->filter(static fn (SavedQuery $one): bool => preg_match('/(?<![\w$])(?:'.preg_quote((string) $column, '/').'(?![\w$])|\*)/i', $one->sql) === 1);
                if ($of->isNotEmpty()) {
                    $sentences[] = "$keep->name would no longer have $column, which may be read by ".$of->map(static fn (SavedQuery $one): string => $one->nameFor($reader))->unique()->implode(', ').'.';
                }
            }
        }

        return $sentences;
    }
}
