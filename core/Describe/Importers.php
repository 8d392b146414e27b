<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Describe\Curl\CurlImporter;
use DeepSpring\Describe\Har\HarImporter;
use DeepSpring\Describe\OpenApi\OpenApiImporter;
use DeepSpring\Value\Kind\Family;
use DeepSpring\Value\Uncollected;

/**
 * Finds out what something is, and reads it. A new kind of description is a class that implements
 * `Importer`, and a line here.
 */
final class Importers
{
    private const ALL = [CurlImporter::class, SourceFileImporter::class, HarImporter::class, OpenApiImporter::class];

    /** @var Family<Importer>|null */
    private static ?Family $family = null;

    /**
     * @return Family<Importer>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(Importer::class, self::ALL);
    }

    /**
     * @return list<Importer>
     */
    public static function all(): array
    {
        return array_map(static fn (string $name): Importer => new (self::family()->class($name) ?? throw new \LogicException($name)), self::family()->names());
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
     * What is found: one description, or several source files. Endpoints that a source file cannot hold
     * say so.
     *
     * @return non-empty-list<Described>
     *
     * @throws CannotDescribe
     */
    public static function every(ImportInput $given): array
    {
        $importer = self::for($given) ?? throw CannotDescribe::unknown();

        return Uncollected::while(static fn (): array => array_map(static fn (Described $one): Described => $one->checked(), $importer->read($given)));
    }

    /**
     * The first of what is found.
     *
     * @throws CannotDescribe
     */
    public static function read(ImportInput $given): Described
    {
        return self::every($given)[0];
    }
}
