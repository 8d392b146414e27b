<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Declared;

/**
 * A rule that the rows of one table keep. Its first setting bears the name of its kind.
 */
interface CheckRule extends Declared
{
    /**
     * @param  array<string, mixed>  $settings  valid by the schema
     *
     * @throws InvalidCheck
     */
    public static function of(array $settings, CheckedTable $table): self;

    /**
     * What the rows keep: "borrower is never empty".
     */
    public function words(): string;

    /**
     * Whether single rows break it, which can be left out then.
     */
    public function isOfRows(): bool;

    /**
     * Columns whose values it looks at, as the source file calls them.
     *
     * @return list<string>
     */
    public function columns(): array;

    /**
     * @return string|null what is broken, in a sentence; null where nothing is
     */
    public function broken(Found $found): ?string;

    /**
     * What was seen where nothing is broken, in a sentence.
     */
    public function held(Found $found): string;
}
