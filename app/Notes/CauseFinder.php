<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\Environment;
use App\Models\NoteKind;

interface CauseFinder
{
    /**
     * @return list<NoteKind> that it answers for: where it finds nothing of them, there is nothing
     */
    public function kinds(): array;

    /**
     * What is wrong now.
     *
     * @return list<Cause>
     */
    public function find(Environment $environment): array;
}
