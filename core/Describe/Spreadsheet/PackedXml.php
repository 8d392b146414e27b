<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Spreadsheet;

use DeepSpring\Describe\CannotDescribe;

/**
 * The XML parts of a zip file, read a node at a time; without entities, and nothing is fetched.
 */
final readonly class PackedXml
{
    public function __construct(private string $file)
    {
    }

    /**
     * @param  string|null  $name  of the elements; all of them when null
     * @param  \Closure(\XMLReader): void  $do
     */
    public function each(string $part, ?string $name, \Closure $do): bool
    {
        $reader = $this->open($part);
        while ($reader !== null && self::advance($reader)) {
            if ($reader->nodeType === \XMLReader::ELEMENT && ($name === null || $reader->localName === $name)) {
                $do($reader);
            }
        }
        $reader?->close();

        return $reader !== null;
    }

    public function open(string $part): ?\XMLReader
    {
        $reader = new \XMLReader;
        $address = "zip://$this->file#$part";

        return $part !== '' && @fopen($address, 'r') !== false && @$reader->open($address, null, LIBXML_NONET | LIBXML_COMPACT) ? $reader : null;
    }

    /**
     * @throws CannotDescribe
     */
    public static function advance(\XMLReader $reader): bool
    {
        $is = self::undamaged(static fn (): bool => @$reader->read());
        if ($reader->nodeType === \XMLReader::DOC_TYPE) {
            throw CannotDescribe::because('The file declares a document type, which no spreadsheet does. It is not read.');
        }

        return $is;
    }

    /**
     * @throws CannotDescribe
     */
    public static function text(\XMLReader $reader): string
    {
        return self::undamaged(static fn (): string => @$reader->readString());
    }

    /**
     * @template T
     *
     * @param  \Closure(): T  $read
     * @return T
     *
     * @throws CannotDescribe
     */
    private static function undamaged(\Closure $read): mixed
    {
        $before = libxml_use_internal_errors(true);
        $found = $read();
        $fault = libxml_get_last_error();
        libxml_clear_errors();
        libxml_use_internal_errors($before);
        if ($fault !== false && $fault->level >= LIBXML_ERR_ERROR) {
            throw CannotDescribe::because('The file is damaged: '.trim($fault->message).'.');
        }

        return $found;
    }
}
