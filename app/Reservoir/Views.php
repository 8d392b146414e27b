<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use App\Models\Principal;

/**
 * Statements that stand beside the kept tables under a name, and are answered each time they are read: as
 * their owner, and with no more than the owner may read.
 */
interface Views
{
    /** The variable of a connection in which stands what a reader asks with: a JSON object of texts. */
    public const ASKED = '@spring_asked';

    /** The function with which a view reads one of them by its name; null where it is not there. */
    public const ASKED_FUNCTION = 'spring_asked';

    /**
     * Makes a view, or makes it say something else.
     *
     * @param  list<string>  $columns  names of its columns, in the order in which the statement gives them
     *
     * @throws \PDOException where the database does not take the statement; then what was there before stays
     */
    public function define(Principal $owner, Environment $environment, string $name, array $columns, string $sql): void;

    /**
     * One that is not there is no fault.
     */
    public function drop(Environment $environment, string $name): void;

    public function exists(Environment $environment, string $name): bool;

    /**
     * @param  non-empty-list<string>  $columns
     */
    public function counts(Environment $environment, string $name, array $columns): KeyCounts;
}
