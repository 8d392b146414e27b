<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * A way to ask only for what changed.
 */
interface Increment
{
    /**
     * What is sent beside all else: name of the parameter → value.
     *
     * @param  string  $mark  where the reading before ended
     * @param  \DateTimeImmutable  $now  when this one begins
     * @return array<string, string>
     */
    public function sent(string $mark, \DateTimeImmutable $now): array;

    /**
     * Where the next reading begins, such that nothing is left out.
     *
     * @param  string|null  $mark  where this one began; null for one that read everything
     * @return string|null null where nothing can be said, so that everything has to be read
     */
    public function next(?string $mark, SeenValues $seen): ?string;

    /**
     * The column whose largest value says where the next reading begins; null where none does.
     */
    public function column(): ?string;

    /**
     * Whether of two states of a record the newer one has the larger value in that column.
     */
    public function tellsStates(): bool;

    /**
     * JSONPath of what an answer hands out for the next reading, in the whole answer.
     */
    public function marker(): ?string;

    /**
     * "by changed, sent as changed_since, 5 min earlier"
     */
    public function words(): string;

    /**
     * What this way does not see, in a sentence.
     */
    public function blind(): string;
}
