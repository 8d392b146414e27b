<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Value\BeyondBounds;
use DeepSpring\Value\JsonSubtrees;
use DeepSpring\Value\YamlText;
use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;

/**
 * Text → a valid source file, or faults with their lines.
 */
final class Reader
{
    private const MOST_BYTES = 2 << 20;

    private const MOST_JSON_BYTES = 32 << 20;

    /**
     * @throws InvalidSourceFile
     */
    public function read(string $text): SourceFile
    {
        $text = (string) preg_replace('/^\xEF\xBB\xBF/', '', $text);
        if (trim($text) === '') {
            throw InvalidSourceFile::because([new Fault('', 'The file is empty. A source file starts with "deepspring: 1".')]);
        }
        $document = str_starts_with(ltrim($text), '{') ? $this->json($text) : $this->yaml($text);
        if (! is_array($document) || array_is_list($document)) {
            throw InvalidSourceFile::because([new Fault('', 'A source file is a mapping that starts with "deepspring: 1".', 1)]);
        }
        try {
            return SourceFile::of($document);
        } catch (InvalidSourceFile $invalid) {
            $lines = new LineMap($text);

            throw InvalidSourceFile::because(array_map(static fn (Fault $fault): Fault => $fault->at($lines->of($fault->path)), $invalid->faults));
        }
    }

    private function json(string $text): mixed
    {
        if (strlen($text) > self::MOST_JSON_BYTES) {
            throw InvalidSourceFile::because([new Fault('', BeyondBounds::size(strlen($text), self::MOST_JSON_BYTES)->getMessage())]);
        }
        try {
            return JsonSubtrees::document(json_decode($text, false, 512, JSON_THROW_ON_ERROR));
        } catch (\JsonException $fault) {
            throw InvalidSourceFile::because([new Fault('', "This is not JSON: {$fault->getMessage()}.")]);
        }
    }

    private function yaml(string $text): mixed
    {
        if (preg_match('/^[ ]*\t/m', $text, $found, PREG_OFFSET_CAPTURE) === 1) {
            throw InvalidSourceFile::because([new Fault('', 'YAML is indented with spaces, not tabs.', substr_count($text, "\n", 0, $found[0][1]) + 1)]);
        }
        try {
            return JsonSubtrees::document(YamlText::parse($text, Yaml::PARSE_EXCEPTION_ON_INVALID_TYPE | Yaml::PARSE_OBJECT_FOR_MAP, self::MOST_BYTES));
        } catch (BeyondBounds $beyond) {
            throw InvalidSourceFile::because([new Fault('', $beyond->getMessage())]);
        } catch (ParseException $fault) {
            $reason = (string) preg_replace('/ at line \d+.*$/s', '', $fault->getMessage());

            throw InvalidSourceFile::because([new Fault('', 'This is not YAML: '.rtrim($reason, '.').'.', $fault->getParsedLine() > 0 ? $fault->getParsedLine() : null)]);
        }
    }
}
