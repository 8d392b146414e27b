<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\SavedQuery;

/**
 * A query that was not saved, in a sentence.
 */
final class CannotSave extends \RuntimeException
{
    private function __construct(string $sentence, public readonly string $field, public readonly ?int $standing, ?\Throwable $previous)
    {
        parent::__construct($sentence, 0, $previous);
    }

    public static function because(string $sentence, string $field = 'name', ?\Throwable $previous = null): self
    {
        return new self($sentence, $field, null, $previous);
    }

    /**
     * Another version was saved since this one was begun.
     */
    public static function overtaken(SavedQuery $query): self
    {
        $who = $query->versions()->with('user')->where('number', $query->version)->first()?->user;

        return new self("Version $query->version of \"$query->name\" was saved meanwhile".($who === null ? '' : ", by $who->name").'. Nothing was written over it, and what you wrote is still in the editor.', 'sql', $query->version, null);
    }
}
