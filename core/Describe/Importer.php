<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Reads one kind of description. It sends nothing and stores nothing.
 */
interface Importer
{
    /** In a few words, for a screen: "cURL commands". */
    public function name(): string;

    /**
     * Whether it is this kind, as far as a look at it tells.
     */
    public function recognises(ImportInput $given): bool;

    /**
     * @throws CannotDescribe
     */
    public function read(ImportInput $given): Described;
}
