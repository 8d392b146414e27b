<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

use DeepSpring\OData\Model\Model;

/**
 * Metadata documents of one service → its model. CSDL in XML (versions 1 to 4.01) and in JSON (4.01).
 */
final readonly class Metadata
{
    /** Vocabularies that everybody refers to; their terms are known by their local names. */
    private const VOCABULARIES = '/^(?:Org\.OData\.|com\.[a-z]+\.vocabularies\.)/i';

    /**
     * @throws UnreadableMetadata
     */
    public static function read(string $document): Collected
    {
        $start = ltrim(substr($document, 0, 2000), "\xEF\xBB\xBF \t\r\n");
        if (preg_match('/^(?:<!doctype html|<html)/i', $start) === 1) {
            throw UnreadableMetadata::isPage();
        }

        return (str_starts_with($start, '{') ? new JsonReader : new XmlReader)->read($document);
    }

    /**
     * Other documents that are needed: their addresses as they are written.
     *
     * @return list<string>
     */
    public static function needs(Collected $collected): array
    {
        $needed = [];
        foreach ($collected->references as $address => $namespaces) {
            $missing = array_filter($namespaces, static fn (string $namespace): bool => preg_match(self::VOCABULARIES, $namespace) !== 1 && ! in_array($namespace, $collected->namespaces, true));
            if ($missing !== []) {
                $needed[] = (string) $address;
            }
        }

        return $needed;
    }

    /**
     * @throws UnreadableMetadata
     */
    public static function model(Collected $collected): Model
    {
        return (new Assembler($collected))->model();
    }
}
