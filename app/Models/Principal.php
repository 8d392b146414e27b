<?php

declare(strict_types=1);

namespace App\Models;

/**
 * Who asks: a person, and whatever else may read on its own behalf. Each has database accounts of its
 * own, so that the database decides what it may read.
 */
interface Principal
{
    /**
     * A name that no other principal has or had: lower-case letters, digits and underscores, at most 20.
     */
    public function account(): string;

    /**
     * The person behind it, whose consents and history are used; null where nobody is.
     */
    public function person(): ?User;

    /**
     * Names of the tables and views that it may read; null for all that is kept.
     *
     * @return list<string>|null
     */
    public function tables(Environment $environment): ?array;

    /**
     * What is set for it, by name: my('house') in the condition of a feed.
     *
     * @return array<string, string>
     */
    public function values(): array;

    /**
     * Connections that it may have at the same time.
     */
    public function atOnce(): int;
}
