<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\SeenProfile;

/**
 * The fields of an endpoint's records over its last runs: a line for each field, a cell for each
 * run, as full as the share of records that had it. Fields that came or went stand first.
 */
final readonly class FieldHistory
{
    private const RUNS = 24;

    private const FIELDS = 200;

    /** Lines of fields that came or went. */
    private const CHANGED = 14;

    public const CELL = 22;

    /**
     * @param  list<array{at: string, run: int|null, records: int}>  $runs  the oldest first
     * @param  list<array{path: string, shares: list<float|null>, kinds: list<string>, isChanged: bool}>  $fields
     * @param  int  $more  fields that are not drawn
     */
    private function __construct(public array $runs, public array $fields, public int $more)
    {
    }

    /**
     * @param  bool  $all  those too that never changed
     */
    public static function of(KeptTable $table, Environment $environment, bool $all = false): ?self
    {
        $pictures = SeenProfile::query()->where('endpoint_id', $table->endpoint_id)->where('environment_id', $environment->id)->latest('id')->limit(self::RUNS)->get()->reverse()->values();
        if ($pictures->count() < 2) {
            return null;
        }
        $runs = $fields = [];
        foreach ($pictures as $number => $row) {
            $picture = $row->read();
            $runs[] = ['at' => Show::at($row->created_at), 'run' => $row->run_id, 'records' => $picture->records ?? 0];
            foreach ($picture->fields ?? [] as $path => $seen) {
                $fields[$path]['shares'][$number] = $picture === null || $picture->looked === 0 ? 0.0 : min(1.0, $seen['times'] / $picture->looked);
                $fields[$path]['kinds'][$number] = implode(' or ', $seen['kinds']);
            }
        }
        $drawn = [];
        foreach ($fields as $path => $field) {
            $shares = array_map(static fn (int $number): ?float => $field['shares'][$number] ?? null, array_keys($runs));
            $kinds = array_values(array_unique(array_filter($field['kinds'], static fn (string $kind): bool => $kind !== '')));
            $drawn[] = ['path' => (string) $path, 'shares' => $shares, 'kinds' => $kinds, 'isChanged' => in_array(null, $shares, true) || count($kinds) > 1];
        }
        usort($drawn, static fn (array $a, array $b): int => $b['isChanged'] <=> $a['isChanged']);

        $most = $all ? self::FIELDS : min(self::CHANGED, count(array_filter($drawn, static fn (array $field): bool => $field['isChanged'])));

        return new self($runs, array_slice($drawn, 0, $most), max(0, count($drawn) - $most));
    }

    public function width(): int
    {
        return 330 + self::CELL * count($this->runs);
    }

    public function height(): int
    {
        return 26 + 20 * count($this->fields);
    }
}
