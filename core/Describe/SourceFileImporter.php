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
        $texts = array_values(array_filter(preg_split('/^---[ \t]*\r?$/m', $given->text, -1, PREG_SPLIT_OFFSET_CAPTURE) ?: [], static fn (array $one): bool => trim($one[0]) !== ''));
        foreach ($texts as $number => [$text, $from]) {
            try {
                $file = SourceFile::read($text);
                $endpoints = array_map(static fn ($one): ImportedEndpoint => new ImportedEndpoint($one->endpoint, $one->ask()->method.' '.$one->ask()->path), $file->endpoints());
                $source = $file->source();
                $bases = array_values(array_filter(array_map($source->base(...), $source->environments())));
                $all[] = new Described('source-file', $source->name, $bases, $source->accessEntries(), [], [], $endpoints, [], $file->document);
            } catch (InvalidSourceFile $invalid) {
                // Lines are those of the whole text, which is what somebody has open.
                $before = substr_count($given->text, "\n", 0, $from);
                array_push($faults, ...array_map(static fn (Fault $fault): string => (count($texts) > 1 ? 'file '.($number + 1).', ' : '').$fault->at($fault->line === null ? null : $fault->line + $before), $invalid->faults));
            }
        }
        if ($faults !== [] || $all === []) {
            throw CannotDescribe::because(...($faults ?: ['The file is empty.']));
        }

        return $all;
    }
}
