<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Describe\Curl\CurlImporter;
use DeepSpring\Describe\Har\HarImporter;
use DeepSpring\Describe\OpenApi\OpenApiImporter;

/**
 * Finds out what something is, and reads it.
 */
final class Importers
{
    /**
     * @return list<Importer>
     */
    public static function all(): array
    {
        return [new CurlImporter, new SourceFileImporter, new HarImporter, new OpenApiImporter];
    }

    public static function for(Given $given): ?Importer
    {
        foreach (self::all() as $importer) {
            if ($importer->recognises($given)) {
                return $importer;
            }
        }

        return null;
    }

    /**
     * @throws CannotDescribe
     */
    public static function read(Given $given): Described
    {
        $given = Archive::open($given);

        return (self::for($given) ?? throw CannotDescribe::unknown())->read($given);
    }
}
