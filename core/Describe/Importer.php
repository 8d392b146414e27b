<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Value\Kind\Declared;

/**
 * Reads one kind of description. It sends nothing and stores nothing.
 */
interface Importer extends Declared
{
    /**
     * Whether it is this kind, as far as a look at it tells.
     */
    public function recognises(ImportInput $given): bool;

    /**
     * @return non-empty-list<Described> one for each source that it describes
     *
     * @throws CannotDescribe
     */
    public function read(ImportInput $given): array;
}
