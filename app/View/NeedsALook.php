<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Environment;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\Role;

/**
 * The notes of an environment as the Watershed shows them.
 */
final class NeedsALook
{
    /** @var list<Note> what asks for a look now, failures first */
    public readonly array $all;

    /** @var array<int, true> endpoints whose last refresh failed, whether or not it was put aside */
    public readonly array $failed;

    /** @var array<int, NoteKind> source → refused, or waiting for a consent */
    public readonly array $refused;

    public function __construct(Environment $environment, Role $role)
    {
        $this->all = array_values(Note::open($environment, $role)->get()->all());
        $failed = $refused = [];
        foreach (Note::query()->where('environment_id', $environment->id)->whereNull('closed_at')->whereIn('kind', [NoteKind::Refresh, NoteKind::Source, NoteKind::Consent])->get(['kind', 'source_id', 'endpoint_id']) as $note) {
            if ($note->kind === NoteKind::Refresh) {
                $failed[(int) $note->endpoint_id] = true;
            } else {
                $refused[(int) $note->source_id] = $note->kind;
            }
        }
        $this->failed = $failed;
        $this->refused = $refused;
    }
}
