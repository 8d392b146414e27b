<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * One form of CSDL → what it says.
 */
interface MetadataReader
{
    /**
     * @throws UnreadableMetadata
     */
    public function read(string $document): Collected;
}
