<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\ImportNotice;

/**
 * Bodies that were made before: many operations of a file take the same one, which is made once and kept
 * once in memory.
 */
final class MadeBodies
{
    /** @var array<string, array{array{array<string, mixed>|null, list<array<string, mixed>>, string|null}, list<ImportNotice>}> */
    private array $made = [];

    /**
     * @param  list<mixed>  $from  all that the body depends on, as decoded JSON
     * @param  \Closure(): array{array{array<string, mixed>|null, list<array<string, mixed>>, string|null}, list<ImportNotice>}  $make
     * @return array{array{array<string, mixed>|null, list<array<string, mixed>>, string|null}, list<ImportNotice>} the body, its inputs and its media type; and what is to be said of it
     */
    public function of(array $from, \Closure $make): array
    {
        return $this->made[hash('xxh128', serialize($from))] ??= $make();
    }
}
