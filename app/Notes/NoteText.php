<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\Endpoint;
use App\Models\Follow;
use App\Models\KeptTable;
use App\Models\Note;
use App\Models\Role;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * How notes are written in messages: as JSON for programs, as text for mail.
 */
final class NoteText
{
    /** Notes of each sort that one message carries; more are counted. */
    private const MOST = 50;

    /**
     * @param  array<string, list<Note>>  $notes  raised, closed, open → notes
     */
    public function subject(Follow $follow, array $notes): string
    {
        $all = array_merge(...array_values($notes));
        if (count($all) === 1) {
            $what = "{$all[0]->title}: ".($all[0]->isOpen() ? $all[0]->kind->title() : 'over: '.$all[0]->kind->title());
        } else {
            $parts = [];
            foreach (['raised' => 'new', 'open' => 'open', 'closed' => 'over'] as $sort => $word) {
                $parts[] = ($notes[$sort] ?? []) === [] ? null : Phrase::count(count($notes[$sort]), 'note')." $word";
            }
            $what = implode(', ', array_filter($parts));
        }

        return mb_strimwidth((string) preg_replace('/\s+/u', ' ', "$what · {$follow->environment->name}"), 0, 180, '…');
    }

    /**
     * `{"type", "timestamp", "data": {"environment", "raised": [note], "closed": [note]}}`; with `open` in place of
     * `raised` once a day. A list that was cut says so by `more`.
     *
     * @param  array<string, list<Note>>  $notes
     */
    public function json(string $type, Follow $follow, array $notes, Carbon $now): string
    {
        $data = ['environment' => $follow->environment->slug];
        foreach ($notes as $sort => $some) {
            $data[$sort] = array_map(fn (Note $note): array => $this->note($note, $follow->user->role), array_slice($some, 0, self::MOST));
            if (count($some) > self::MOST) {
                $data['more'][$sort] = count($some) - self::MOST;
            }
        }

        return json_encode(['type' => $type, 'timestamp' => self::time($now), 'data' => $data], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    /**
     * @param  array<string, list<Note>>  $notes
     */
    public function mail(Follow $follow, array $notes): string
    {
        $text = '';
        foreach (['raised' => 'New', 'open' => 'Open', 'closed' => 'Over'] as $sort => $head) {
            $some = $notes[$sort] ?? [];
            if ($some === []) {
                continue;
            }
            $text .= "$head in {$follow->environment->name}: ".Phrase::count(count($some), 'note')."\n\n";
            foreach (array_slice($some, 0, self::MOST) as $note) {
                $text .= $this->paragraph($note, $follow);
            }
            if (count($some) > self::MOST) {
                $text .= 'And '.(count($some) - self::MOST).' more: '.self::url('/notes')."\n\n";
            }
        }

        return $text."You follow {$follow->thing()}".($follow->failures_only ? ', failures only,' : '')." in {$follow->environment->name}. What you follow: ".self::url('/notes/following')."\n";
    }

    private function paragraph(Note $note, Follow $follow): string
    {
        $at = static fn (Carbon $moment): string => $moment->copy()->setTimezone($follow->user->zone)->format('Y-m-d H:i T');
        $lines = [
            "{$note->title}: {$note->kind->title()}",
            (string) $note->sentenceFor($follow->user->role),
            $note->isOpen() ? "Since {$at($note->since)}." : "It lasted from {$at($note->since)} to {$at($note->closed_at ?? $note->since)}.",
        ];
        if ($note->isOpen()) {
            $lines[] = $note->meanwhile;
            $lines[] = $follow->user->role->mayBuild() && $note->advice !== null ? "What would help: $note->advice" : null;
        }
        $lines[] = self::url("/notes/{$note->id}");

        return implode("\n", array_filter($lines))."\n\n";
    }

    /**
     * @return array<string, mixed>
     */
    private function note(Note $note, Role $role): array
    {
        $names = $note->endpoint_id === null ? [] : KeptTable::query()->where('endpoint_id', $note->endpoint_id)->where('environment_id', $note->environment_id)->orderBy('is_branch')->orderBy('name')->pluck('name')->all();

        return [
            'id' => $note->id, 'kind' => $note->kind->value, 'failure' => $note->is_failure, 'title' => $note->title, 'sentence' => $note->sentenceFor($role),
            'advice' => $role->mayBuild() ? $note->advice : null, 'meanwhile' => $note->meanwhile,
            'source' => $role->mayBuild() ? $note->source?->slug : null, 'endpoint' => $role->mayBuild() && $note->endpoint instanceof Endpoint ? $note->endpoint->slug : null, 'tables' => $names,
            'since' => self::time($note->since), 'raised_at' => self::time($note->raised_at), 'closed_at' => $note->closed_at === null ? null : self::time($note->closed_at), 'url' => self::url("/notes/{$note->id}"),
        ];
    }

    private static function time(Carbon $moment): string
    {
        return $moment->copy()->utc()->format('Y-m-d\TH:i:s.v\Z');
    }

    private static function url(string $path): string
    {
        return rtrim((string) config('app.url'), '/').$path;
    }
}
