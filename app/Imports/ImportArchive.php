<?php

declare(strict_types=1);

namespace App\Imports;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportInput;

/**
 * A zip of descriptions: the one that the others belong to, with the others beside it.
 */
final class ImportArchive
{
    private const MOST_BYTES = 256 * 1024 * 1024;

    private const MOST_FILES = 2000;

    /**
     * @throws CannotDescribe
     */
    public static function open(ImportInput $given): ImportInput
    {
        if (! str_starts_with($given->text, "PK\x03\x04")) {
            return $given;
        }
        $contents = self::contents($given->text);
        $main = null;
        foreach ($contents as $name => $text) {
            if (preg_match('/^\s*(?:\{.{0,200}?"|(?:#[^\n]*\s*|---\s*)*["\']?)(?:openapi|swagger|deepspring)["\']?\s*:/s', substr($text, 0, 4000)) === 1 && ($main === null || substr_count($name, '/') < substr_count($main, '/'))) {
                $main = $name;
            }
        }
        if ($main === null) {
            throw CannotDescribe::because('None of the '.count($contents).' files in this zip is an OpenAPI file or a source file.');
        }
        $sources = array_filter($contents, static fn (string $text): bool => preg_match('/^\s*(?:#[^\n]*\s*|---\s*)*deepspring\s*:/', $text) === 1);

        return count($sources) > 1
            ? new ImportInput(implode("\n---\n", $sources), $given->name, $given->address)
            : new ImportInput($contents[$main], $main, $given->address, new Files($contents), $given->bases);
    }

    /**
     * @return array<string, string>
     */
    private static function contents(string $bytes): array
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'zip');
        try {
            file_put_contents($path, $bytes);
            $zip = new \ZipArchive;
            if ($zip->open($path, \ZipArchive::RDONLY) !== true) {
                throw CannotDescribe::because('The zip is damaged and cannot be opened.');
            }
            $contents = [];
            $total = 0;
            for ($number = 0; $number < min($zip->numFiles, self::MOST_FILES); $number++) {
                $stat = $zip->statIndex($number);
                $name = (string) ($stat['name'] ?? '');
                $total += (int) ($stat['size'] ?? 0);
                if ($total > self::MOST_BYTES) {
                    throw CannotDescribe::because('The zip holds more than '.intdiv(self::MOST_BYTES, 1048576).' MB, unpacked.');
                }
                if (preg_match('/\.(?:ya?ml|json)$/iD', $name) === 1) {
                    $contents[$name] = (string) $zip->getFromIndex($number);
                }
            }
            $zip->close();

            return $contents;
        } finally {
            @unlink($path);
        }
    }
}
