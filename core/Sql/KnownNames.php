<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * What can be read: asked for no more than is needed, since there can be many tables.
 */
interface KnownNames
{
    /**
     * @return array<string, string> names of tables → what is to be said beside them
     */
    public function tables(): array;

    /**
     * @return array<string, string> names of columns → their type in words; none for a table that is not there
     */
    public function columns(string $table): array;

    /**
     * Columns by which a table belongs to others, the surest first.
     *
     * @return list<JoinTie>
     */
    public function ties(string $table): array;
}
