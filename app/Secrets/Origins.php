<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Models\Environment;
use App\Models\Source;
use DeepSpring\Access\MissingVariable;
use DeepSpring\SourceFile\SourceFile;

/**
 * Where secrets and tokens of a source belong.
 */
final readonly class Origins
{
    /**
     * The origins that a source has in an environment at this moment: as its builders see it, and as
     * it is published.
     *
     * @return list<string>
     */
    public static function ofSource(Source $source, Environment $environment): array
    {
        return self::all([$source->draft()?->file(), $source->published()], $environment);
    }

    /**
     * Those by which it is read at this moment: of what is published, or of the draft where nothing is.
     *
     * @return list<string>
     */
    public static function inUse(Source $source, Environment $environment): array
    {
        return self::all([$source->published() ?? $source->draft()?->file()], $environment);
    }

    /**
     * @param  list<SourceFile|null>  $files
     * @return list<string>
     */
    private static function all(array $files, Environment $environment): array
    {
        $origins = [];
        foreach (array_filter($files) as $file) {
            try {
                array_push($origins, ...$file->source()->origins($environment->slug), ...$file->source()->furtherOrigins($environment->slug));
            } catch (MissingVariable) {
                // Without its variables nothing can be sent by it either.
                continue;
            }
        }
        $origins = array_values(array_unique($origins));
        sort($origins);

        return $origins;
    }
}
