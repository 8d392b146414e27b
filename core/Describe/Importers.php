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

    public static function for(ImportInput $given): ?Importer
    {
        foreach (self::all() as $importer) {
            if ($importer->recognises($given)) {
                return $importer;
            }
        }

        return null;
    }

    /**
     * What is found: one description, or several source files.
     *
     * @return non-empty-list<Described>
     *
     * @throws CannotDescribe
     */
    public static function every(ImportInput $given): array
    {
        $importer = self::for($given) ?? throw CannotDescribe::unknown();

        return $importer instanceof SourceFileImporter ? $importer->all($given) : [$importer->read($given)];
    }

    /**
     * @throws CannotDescribe
     */
    public static function read(ImportInput $given): Described
    {
        return (self::for($given) ?? throw CannotDescribe::unknown())->read($given);
    }
}
