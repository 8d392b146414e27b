<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * What tables are called until they are put in place. Those of one run have names of their own, so a
 * loader that outlives its run by a moment can never write into those of the next one.
 */
final class StageNames
{
    public string $mark;

    public function __construct(public readonly string $schema, public readonly string $owner)
    {
        $this->renew();
    }

    public function renew(): void
    {
        $this->mark = bin2hex(random_bytes(4));
    }

    public static function of(string $owner): string
    {
        return "stage__{$owner}__";
    }

    public function bare(int|string $part): string
    {
        return self::of($this->owner)."{$this->mark}_$part";
    }

    public function table(int $number): string
    {
        return Sql::table($this->schema, $this->bare($number));
    }

    public function pages(): string
    {
        return Sql::table($this->schema, $this->bare('r'));
    }

    /**
     * The table that says how far the reading got.
     */
    public function progress(): string
    {
        return Sql::table($this->schema, $this->bare('p'));
    }

    /**
     * Where a table that was in place goes for a moment.
     */
    public function aside(int|string $part): string
    {
        return Sql::table($this->schema, self::of($this->owner)."old_{$this->mark}_$part");
    }
}
