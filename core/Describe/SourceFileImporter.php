<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Kind\Kind;

/**
 * A source file of our own.
 */
final class SourceFileImporter implements Importer
{
    public static function kind(): Kind
    {
        return new Kind('source-file', 'Source file', 'What this application exports; several in one text have `---` between them.');
    }

    public function recognises(ImportInput $given): bool
    {
        return preg_match('/^(?:\xEF\xBB\xBF)?\s*(?:\{\s*(?:"[^"]*"\s*:\s*(?:"[^"]*"|\d+)\s*,\s*){0,3}"deepspring"|(?:---\s*|#[^\n]*\n\s*)*deepspring\s*:)/', substr($given->text, 0, 4000)) === 1;
    }

    public function read(ImportInput $given): array
    {
        $all = [];
        $faults = [];
        $texts = array_values(array_filter(preg_split('/^---[ \t]*\r?$/m', $given->text) ?: [], static fn (string $text): bool => trim($text) !== ''));
        foreach ($texts as $number => $text) {
            try {
                $file = SourceFile::read($text);
                $endpoints = array_map(static fn ($one): ImportedEndpoint => new ImportedEndpoint($one->endpoint, $one->ask()->method.' '.$one->ask()->path), $file->endpoints());
                $source = $file->source();
                $bases = array_values(array_filter(array_map($source->base(...), $source->environments())));
                $all[] = new Described('source-file', $source->name, $bases, $source->accessEntries(), [], [], $endpoints, [], $file->document);
            } catch (InvalidSourceFile $invalid) {
                array_push($faults, ...array_map(static fn (Fault $fault): string => (count($texts) > 1 ? 'file '.($number + 1).', ' : '').$fault, $invalid->faults));
            }
        }
        if ($faults !== [] || $all === []) {
            throw CannotDescribe::because(...($faults ?: ['The file is empty.']));
        }

        return $all;
    }
}
