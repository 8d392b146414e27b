<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Environment;
use App\Models\Note;
use App\Models\NoteKind;
use App\Notes\AsideTime;
use App\Notes\NoteBook;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

final class NotesCommand extends SpringCommand
{
    private const MOST = 1000;

    protected $signature = 'spring:notes {words? : Only notes that have these words} {--state=open : open, aside, closed or all} {--kind= : Only those of a kind: refresh, source, paused, check …} {--aside= : Number of a note that is put aside} {--until= : Until when: hour, tomorrow, monday, week, month or YYYY-MM-DD HH:MM in UTC} {--back= : Number of a note that is taken back} {--environment= : Environment (all)}';

    protected $description = 'Lists what is wrong now, puts a note aside, takes it back';

    public function work(NoteBook $book): int
    {
        $environments = $this->environments();
        foreach ($environments as $environment) {
            $book->align($environment);
        }
        if ($this->option('aside') !== null || $this->option('back') !== null) {
            return $this->answer($book);
        }
        $kind = $this->option('kind') === null ? null : NoteKind::tryFrom((string) $this->option('kind')) ?? throw new WrongUse('--kind is one of '.implode(', ', array_column(NoteKind::cases(), 'value')).'.');
        $words = is_string($this->argument('words')) ? '%'.addcslashes($this->argument('words'), '%_\\').'%' : null;
        $state = (string) $this->option('state');
        if (! in_array($state, ['open', 'aside', 'closed', 'all'], true)) {
            throw new WrongUse('--state is open, aside, closed or all.');
        }
        $notes = Note::inState(Note::query()->with(['environment', 'source'])->whereIn('environment_id', array_column($environments, 'id')), $state)
            ->when($kind !== null, static fn (Builder $query) => $query->where('kind', $kind))
            ->when($words !== null, static fn (Builder $query) => $query->where(static fn (Builder $any) => $any->whereRaw('title collate utf8mb4_general_ci like ?', [$words])->orWhereRaw('sentence collate utf8mb4_general_ci like ?', [$words])))
            ->latest('is_failure')->latest('id')->limit(self::MOST)->get();
        foreach ($notes as $note) {
            $this->giveLine(implode("\t", [
                $note->id, $note->environment->slug, $note->kind->value, $note->isOpen() ? ($note->isAside() ? 'aside' : 'open') : 'closed', $note->since->format('Y-m-d\TH:i:s\Z'),
                ...array_map(static fn (string $text): string => (string) preg_replace('/\s+/u', ' ', $text), [$note->title, $note->sentence]),
            ]));
        }
        if ($notes->isEmpty()) {
            $this->say($words === null && $kind === null && $state === 'open' ? 'Nothing is wrong.' : 'No note matches.');
        }

        return self::DONE;
    }

    private function answer(NoteBook $book): int
    {
        $number = (string) ($this->option('aside') ?? $this->option('back'));
        $note = preg_match('/^\d{1,18}$/D', $number) === 1 ? Note::query()->find((int) $number) : null;
        if ($note === null || ! $note->isOpen()) {
            throw new WrongUse("No open note has the number $number.");
        }
        if ($this->option('back') !== null) {
            $book->takeBack($note);
            $this->say("{$note->title} is back.");

            return self::DONE;
        }
        try {
            $until = AsideTime::of((string) $this->option('until'), 'UTC', Carbon::now());
        } catch (\InvalidArgumentException $refused) {
            throw new WrongUse("--until: {$refused->getMessage()}");
        }
        $book->putAside($note, $until, null);
        $this->say("{$note->title} is put aside until {$until->format('Y-m-d H:i')} UTC.");

        return self::DONE;
    }

    /**
     * @return list<Environment>
     */
    private function environments(): array
    {
        $asked = $this->option('environment');

        return is_string($asked) && $asked !== '' ? [Environment::named($asked) ?? throw new WrongUse("There is no environment \"$asked\".")] : array_values(Environment::query()->orderBy('position')->get()->all());
    }
}
