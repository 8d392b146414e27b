<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\Environment;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\User;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Keeps one open note for each thing that is wrong now. Several may do so at once: the database lets only one of
 * them raise a note for a cause, and only one close it.
 */
final readonly class NoteBook
{
    /**
     * @param  list<CauseFinder>  $finders
     */
    public function __construct(private array $finders)
    {
    }

    public function alignAll(): void
    {
        foreach (Environment::query()->get() as $environment) {
            $this->align($environment);
        }
    }

    /**
     * Raises what is new and closes what is gone.
     */
    public function align(Environment $environment): void
    {
        foreach ($this->finders as $finder) {
            try {
                $this->take($environment, $finder);
            } catch (\Throwable $unknown) {
                // What cannot be looked at stays as it was, and keeps nothing else from being told.
                report($unknown);
            }
        }
    }

    /**
     * Nobody is reminded of it until then.
     */
    public function putAside(Note $note, Carbon $until, ?User $by): void
    {
        $note->update(['aside_until' => $until, 'aside_by' => $by?->id]);
    }

    public function takeBack(Note $note): void
    {
        $note->update(['aside_until' => null, 'aside_by' => null]);
    }

    private function take(Environment $environment, CauseFinder $finder): void
    {
        $kinds = array_map(static fn (NoteKind $kind): string => $kind->value, $finder->kinds());
        // What is open is read first: a note that somebody else raises meanwhile is not taken for one whose cause is gone.
        $open = Note::query()->where('environment_id', $environment->id)->whereNull('closed_at')->whereIn('kind', $kinds)->get()->keyBy('cause');
        $causes = [];
        foreach ($finder->find($environment) as $cause) {
            $causes[$cause->mark()] ??= $cause;
        }
        foreach ($causes as $mark => $cause) {
            $note = $open->get($mark);
            if ($note === null) {
                DB::table('notes')->insertOrIgnore(['environment_id' => $environment->id, 'kind' => $cause->kind->value, 'cause' => $mark, 'open_cause' => $mark, 'is_failure' => $cause->kind->isFailure(), 'raised_at' => Carbon::now()->format('Y-m-d H:i:s.u')] + $this->told($cause));
            } else {
                // Where only the last sign of it is known, it began when it was raised.
                $note->fill(['since' => $note->since->min($cause->since)] + $this->told($cause))->save();
            }
        }
        $gone = $open->reject(static fn (Note $note): bool => isset($causes[$note->cause]))->modelKeys();
        if ($gone !== []) {
            DB::table('notes')->whereIn('id', $gone)->whereNull('closed_at')->update(['closed_at' => Carbon::now()->format('Y-m-d H:i:s.u'), 'open_cause' => null]);
        }
    }

    /**
     * @return array<string, string|int|null>
     */
    private function told(Cause $cause): array
    {
        $cut = static fn (?string $text, int $length): ?string => $text === null ? null : mb_strimwidth(mb_scrub($text, 'UTF-8'), 0, $length, '…', 'UTF-8');

        return [
            'source_id' => $cause->source, 'endpoint_id' => $cause->endpoint, 'table' => $cut($cause->table, 64), 'title' => (string) $cut($cause->title, 190), 'sentence' => (string) $cut($cause->sentence, 1000),
            'reader_sentence' => $cut($cause->forReaders, 1000), 'advice' => $cut($cause->advice, 1000), 'meanwhile' => $cut($cause->meanwhile, 1000), 'link' => $cause->link, 'since' => $cause->since->format('Y-m-d H:i:s.u'),
        ];
    }
}
