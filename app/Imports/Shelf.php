<?php

declare(strict_types=1);

namespace App\Imports;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;

/**
 * Ready descriptions: those that ship with the application, and those that an administrator put into a
 * folder. Each file is a source file or an OpenAPI file.
 */
final readonly class Shelf
{
    private const MOST_BYTES = 64 * 1024 * 1024;

    /**
     * @return array<string, array{title: string, about: string, kind: string, file: string}> by name, sorted by title
     */
    public function all(): array
    {
        $all = [];
        foreach ([database_path('demo'), (string) config('spring.shelf')] as $folder) {
            foreach (glob("$folder/*.{yaml,yml,json}", GLOB_BRACE) ?: [] as $file) {
                $start = (string) file_get_contents($file, length: 8000);
                $isSource = preg_match('/^\s*(?:#[^\n]*\n\s*)*(?:\{\s*)?"?deepspring"?\s*:/', $start) === 1;
                $title = self::member($start, $isSource ? 'name' : 'title') ?? basename($file);
                $about = self::member($start, $isSource ? 'about' : 'description') ?? '';
                $all[pathinfo($file, PATHINFO_FILENAME)] = ['title' => $title, 'about' => $about, 'kind' => $isSource ? 'source file' : 'OpenAPI', 'file' => $file];
            }
        }
        uasort($all, static fn (array $a, array $b): int => strcasecmp($a['title'], $b['title']));

        return $all;
    }

    /**
     * The first member of a name, in JSON or YAML.
     */
    private static function member(string $text, string $name): ?string
    {
        return preg_match('/"'.$name.'"\s*:\s*"((?:[^"\\\\]|\\\\.)*)"|(?:^|[{,])\s*'.$name.'\s*:\s*["\']?([^"\'\n,}]+)/m', $text, $part) === 1 ? trim($part[2] ?? $part[1]) : null;
    }

    /**
     * @throws CannotDescribe
     */
    public function read(string $name): Described
    {
        $file = $this->all()[$name]['file'] ?? throw CannotDescribe::because("There is no \"$name\" on the shelf.");
        if ((int) filesize($file) > self::MOST_BYTES) {
            throw CannotDescribe::because('That file is too large.');
        }
        // The demo's stand-ins are where this instance started them.
        $text = str_replace('http://127.0.0.1:8401', (string) config('spring.demo.standins'), (string) file_get_contents($file));

        return Importers::read(new ImportInput($text, basename($file)));
    }
}
