<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Kind;

/**
 * XML as a tree: an element is a member, elements of one name an array, attributes `@name`, the
 * text of an element that holds others `#text`. A name that is repeated anywhere is an array
 * everywhere, so that a list of one looks like the others. Prefixes are dropped where the names
 * stay apart. Entities of the document's own are refused, and nothing is fetched.
 */
final class XmlFormat implements Format
{
    private const DEPTH = 256;

    private const XMLNS = 'http://www.w3.org/2000/xmlns/';

    private const NIL = 'http://www.w3.org/2001/XMLSchema-instance';

    /** @var array<string, true> paths that are arrays */
    private array $repeated = [];

    /** @var array<string, array<string, string>> local name → namespace → the name that tells it apart; the local name, where there is one namespace */
    private array $names = [];

    /** @var array<string, array<string, string>> the same of attributes, where an element has several of one local name */
    private array $attributes = [];

    public static function kind(): Kind
    {
        return new Kind('xml', 'XML', 'A tree of elements: attributes are `@name`, a repeated element is an array. Entities of its own are refused.');
    }

    public static function of(array $settings): self
    {
        return new self;
    }

    public function recognises(string $type, string $start): Recognition
    {
        return match (true) {
            str_starts_with($start, '<?xml') => Recognition::Sure,
            in_array($type, ['application/xml', 'text/xml'], true) => Recognition::Named,
            str_ends_with($type, '+xml') && ! in_array($type, ['application/xhtml+xml', 'image/svg+xml'], true) => Recognition::Named,
            default => Recognition::No,
        };
    }

    public function read(string $body, string $charset): Read
    {
        $start = ltrim(substr($body, 0, 2000), "\xEF\xBB\xBF \t\r\n");
        if (trim($body) === '') {
            throw UnreadableAnswer::empty();
        }
        if (preg_match('/^(?:<!doctype html|<html)/i', $start) === 1) {
            preg_match('/<title[^>]*>([^<]{1,200})/i', substr($body, 0, 20000), $title);

            throw UnreadableAnswer::html(trim(html_entity_decode($title[1] ?? '', ENT_QUOTES | ENT_HTML5, 'UTF-8')));
        }
        $this->repeated = $this->names = $this->attributes = [];
        $this->survey($body);
        $reader = $this->open($body);
        $root = null;
        while ($reader->read()) {
            if ($reader->nodeType === \XMLReader::ELEMENT) {
                $name = $this->name($reader);
                $root = (object) [$name => $this->element($reader, '/'.$reader->localName.' '.$reader->namespaceURI)];
                break;
            }
        }
        $reader->close();

        return new Read($root, 'xml', 'XML as a tree, '.(count($this->repeated) === 1 ? '1 name is' : count($this->repeated).' names are').' repeated');
    }

    /**
     * Which names are repeated, and which stand in several namespaces.
     */
    private function survey(string $body): void
    {
        $previous = libxml_use_internal_errors(true);
        libxml_clear_errors();
        $reader = $this->open($body);
        $seen = [[]];
        $paths = [''];
        while ($reader->read()) {
            if ($reader->nodeType === \XMLReader::DOC_TYPE) {
                $this->refuseDeclarations($reader);
            } elseif ($reader->nodeType === \XMLReader::ELEMENT) {
                $this->names[$reader->localName] = self::apart($this->names[$reader->localName] ?? [], $reader);
                $depth = $reader->depth;
                if ($depth > self::DEPTH) {
                    throw UnreadableAnswer::beyondReading('it is nested more than '.self::DEPTH.' levels deep');
                }
                $key = $reader->localName.' '.$reader->namespaceURI;
                $path = $paths[$depth].'/'.$key;
                if (isset($seen[$depth][$key])) {
                    $this->repeated[$path] = true;
                }
                $seen[$depth][$key] = true;
                $seen[$depth + 1] = [];
                $paths[$depth + 1] = $path;
                if ($reader->attributeCount > 1) {
                    $this->surveyAttributes($reader);
                }
            }
        }
        $error = libxml_get_last_error();
        libxml_clear_errors();
        libxml_use_internal_errors($previous);
        $reader->close();
        if ($error !== false && $error->level >= LIBXML_ERR_ERROR) {
            throw UnreadableAnswer::beyondReading(str_contains(strtolower($error->message), 'depth') ? 'it is nested more than '.self::DEPTH.' levels deep' : 'it is no well-formed XML: '.lcfirst(trim($error->message))." in line {$error->line}");
        }
    }

    private function open(string $body): \XMLReader
    {
        $reader = \XMLReader::XML($body, null, LIBXML_NONET | LIBXML_COMPACT | LIBXML_NOERROR | LIBXML_NOWARNING);

        return $reader instanceof \XMLReader ? $reader : throw UnreadableAnswer::beyondReading('it is no XML');
    }

    /**
     * @throws UnreadableAnswer
     */
    private function refuseDeclarations(\XMLReader $reader): void
    {
        if ($reader->readOuterXml() !== "<!DOCTYPE {$reader->name}>") {
            throw UnreadableAnswer::beyondReading('it is XML that declares entities of its own or names a DTD, which are never followed');
        }
    }

    /**
     * Attributes of one local name in one element.
     */
    private function surveyAttributes(\XMLReader $reader): void
    {
        $here = [];
        while ($reader->moveToNextAttribute()) {
            if (! in_array($reader->namespaceURI, [self::NIL, self::XMLNS], true)) {
                $here[$reader->localName] = self::apart($here[$reader->localName] ?? [], $reader);
            }
        }
        foreach ($here as $local => $names) {
            if (count($names) > 1) {
                $this->attributes[$local] = ($this->attributes[$local] ?? []) + $names;
            }
        }
        $reader->moveToElement();
    }

    /**
     * One more namespace of a local name: told apart by its prefix, or by the end of the namespace, or by
     * the whole of it.
     *
     * @param  array<string, string>  $names  namespace → name
     * @return array<string, string>
     */
    private static function apart(array $names, \XMLReader $reader): array
    {
        [$space, $local] = [$reader->namespaceURI, $reader->localName];
        if (isset($names[$space])) {
            return $names;
        }
        $end = preg_match('/[A-Za-z][\w-]*(?=[^\w]*$)/D', $space, $part) === 1 ? "$part[0]:$local" : $local;
        $wishes = [$reader->prefix === '' ? $local : "$reader->prefix:$local", $end, '{'.$space.'}'.$local];
        $names[$space] = array_values(array_diff($wishes, $names))[0] ?? $local;

        return $names;
    }

    private function name(\XMLReader $reader): string
    {
        $names = $this->names[$reader->localName] ?? [];

        return count($names) <= 1 ? $reader->localName : $names[$reader->namespaceURI] ?? $reader->localName;
    }

    /**
     * @param  string  $path  of the survey
     */
    private function element(\XMLReader $reader, string $path): mixed
    {
        $object = new \stdClass;
        $isNil = false;
        $isEmpty = $reader->isEmptyElement;
        while ($reader->moveToNextAttribute()) {
            if ($reader->namespaceURI === self::NIL) {
                $isNil = $isNil || $reader->localName === 'nil' && in_array($reader->value, ['true', '1'], true);
            } elseif ($reader->prefix !== 'xmlns' && $reader->name !== 'xmlns') {
                $object->{'@'.($this->attributes[$reader->localName][$reader->namespaceURI] ?? $reader->localName)} = $reader->value;
            }
        }
        $text = '';
        $hasElements = false;
        while (! $isEmpty && $reader->read()) {
            if ($reader->nodeType === \XMLReader::END_ELEMENT) {
                break;
            }
            // Comments and instructions have a value too, and are no part of the text.
            if ($reader->hasValue && ! in_array($reader->nodeType, [\XMLReader::COMMENT, \XMLReader::PI], true)) {
                $text .= $reader->value;
            } elseif ($reader->nodeType === \XMLReader::ELEMENT) {
                $hasElements = true;
                $name = $this->name($reader);
                $below = $path.'/'.$reader->localName.' '.$reader->namespaceURI;
                $value = $this->element($reader, $below);
                if (isset($this->repeated[$below])) {
                    $object->{$name} = [...($object->{$name} ?? []), $value];
                } else {
                    $object->{$name} = $value;
                }
            }
        }
        if (! $hasElements && get_object_vars($object) === []) {
            return $isNil || $isEmpty ? null : $text;
        }
        if ($hasElements ? trim($text) !== '' : $text !== '') {
            $object->{'#text'} = $hasElements ? trim($text) : $text;
        }

        return $object;
    }
}
