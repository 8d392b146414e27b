<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\JournalEntry;
use DeepSpring\Change\ChangeState;
use Illuminate\Support\Carbon;

/**
 * What was changed at services: added to, never changed.
 */
final class Journal
{
    /** Bytes of a request or an answer that are written down. */
    private const MOST = 20_000;

    /** Texts of "via", by the kind of a set. */
    private const VIA = ['grid' => 'grid', 'bulk' => 'in bulk', 'command' => 'command line', 'back' => 'taken back'];

    /**
     * @return array<string, mixed> a row of it
     */
    public static function row(ChangeSet $set, Change $change, ChangeTable $table, ChangeState $outcome, string $request, string $answer, string $reason): array
    {
        return [
            'at' => Carbon::now()->format('Y-m-d H:i:s.u'), 'person' => $set->user_id, 'person_name' => mb_substr($set->user->name, 0, 190), 'via' => $change->kind->value === 'call' && $set->kind === 'grid' ? 'action' : self::VIA[$set->kind] ?? $set->kind,
            'environment' => $set->environment->slug, 'source' => $table->file->slug(), 'endpoint' => $table->plan->endpoint($change->kind, $change->action)->endpoint->slug ?? '', 'table' => $set->table, 'kind' => $change->kind->value,
            'record' => mb_substr($change->record(), 0, 300), 'before_' => self::json($change->before), 'after_' => self::json($change->after + $change->given),
            'request' => self::cut($request), 'answer' => self::cut($answer), 'status' => $change->status, 'milliseconds' => $change->milliseconds, 'outcome' => $outcome->value, 'reason' => mb_substr($reason, 0, 1000),
            'change_id' => $change->id, 'undoes' => $change->undoes,
        ];
    }

    /**
     * @param  list<array<string, mixed>>  $rows
     */
    public static function add(array $rows): void
    {
        $rows === [] || JournalEntry::query()->insert($rows);
    }

    /**
     * @param  array<string, string|null>  $values
     */
    private static function json(array $values): string
    {
        return (string) json_encode((object) $values, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    private static function cut(string $text): string
    {
        return strlen($text) <= self::MOST ? mb_scrub($text, 'UTF-8') : mb_strcut(mb_scrub($text, 'UTF-8'), 0, self::MOST).' …';
    }
}
