<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * CSDL in XML. Only one child of a schema is in memory as a tree at a time, so that a large document
 * costs little more than its text. Elements are known by their local names, since each version has a
 * namespace of its own. Document types, and with them entities, are refused.
 *
 * Sources: [MC-CSDL], OData 3.0 CSDL, OData CSDL XML 4.01.
 */
final class XmlReader implements MetadataReader
{
    public function read(string $document): Collected
    {
        if (preg_match('/<!DOCTYPE/i', substr($document, 0, 4096)) === 1) {
            throw UnreadableMetadata::hasDoctype();
        }
        $collected = new Collected;
        $this->aliases($document, $collected);
        $before = libxml_use_internal_errors(true);
        libxml_clear_errors();
        try {
            $reader = new \XMLReader;
            if ($document === '' || ! $reader->XML($document, null, LIBXML_NONET | LIBXML_COMPACT | LIBXML_PARSEHUGE)) {
                throw UnreadableMetadata::isNoXml('it is empty', 1);
            }
            $this->walk($reader, $collected);
            $reader->close();
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }

        return $collected->namespaces === [] ? throw UnreadableMetadata::hasNoSchema() : $collected;
    }

    /**
     * Aliases are used above the place where they are declared, so they are looked for first.
     */
    private function aliases(string $document, Collected $collected): void
    {
        preg_match_all('/<(?:\w+:)?(?:Schema|Include|Using)\b[^>]*>/', $document, $found);
        foreach ($found[0] as $tag) {
            if (preg_match('/\bAlias\s*=\s*(["\'])(.*?)\1/s', $tag, $alias) === 1 && preg_match('/\bNamespace\s*=\s*(["\'])(.*?)\1/s', $tag, $namespace) === 1) {
                $collected->aliases[html_entity_decode($alias[2], ENT_XML1)] = html_entity_decode($namespace[2], ENT_XML1);
            }
        }
    }

    private function walk(\XMLReader $reader, Collected $collected): void
    {
        $seen = false;
        $elements = null;
        $goesOn = $this->step($reader->read());
        while ($goesOn) {
            if ($reader->nodeType === \XMLReader::DOC_TYPE) {
                throw UnreadableMetadata::hasDoctype();
            }
            if ($reader->nodeType !== \XMLReader::ELEMENT) {
                $goesOn = $this->step($reader->read());

                continue;
            }
            $name = $reader->localName;
            if (! $seen && ! in_array($name, ['Edmx', 'Schema'], true)) {
                throw strcasecmp($name, 'html') === 0 ? UnreadableMetadata::isPage() : UnreadableMetadata::isSomethingElse($reader->name);
            }
            $seen = true;
            if ($name === 'Edmx' && $reader->getAttribute('Version') === '4.0' || $name === 'Edmx' && $reader->getAttribute('Version') === '4.01') {
                $collected->version = (string) $reader->getAttribute('Version');
            } elseif ($name === 'Edmx' && preg_match('/^(?:[5-9]|\d{2,})/', (string) $reader->getAttribute('Version')) === 1) {
                throw UnreadableMetadata::isOfVersion((string) $reader->getAttribute('Version'));
            } elseif ($name === 'DataServices') {
                $collected->version = $collected->version !== '' ? $collected->version : $this->serviceVersion($reader);
            } elseif ($name === 'Reference') {
                $this->reference($reader, $collected);
                $goesOn = $this->step($reader->next());

                continue;
            } elseif ($name === 'Schema') {
                $namespace = (string) $reader->getAttribute('Namespace');
                $collected->namespaces[] = $namespace;
                $elements = new XmlElements($collected, $namespace);
            } elseif ($elements !== null) {
                $node = $this->expand($reader);
                $elements->take($node);
                $goesOn = $this->step($reader->next());

                continue;
            }
            $goesOn = $this->step($reader->read());
        }
    }

    /**
     * A version 2 document says so by the attributes that name it, and else by what it holds.
     */
    private function serviceVersion(\XMLReader $reader): string
    {
        $most = '';
        while ($reader->moveToNextAttribute()) {
            if (in_array($reader->localName, ['MaxDataServiceVersion', 'DataServiceVersion'], true)) {
                $most = max($most, $reader->value);
            }
        }
        $reader->moveToElement();

        return $most === '' ? '2.0' : $most;
    }

    private function reference(\XMLReader $reader, Collected $collected): void
    {
        $node = $this->expand($reader);
        $namespaces = [];
        foreach ($node->childNodes as $child) {
            if ($child instanceof \DOMElement && $child->localName === 'Include') {
                $namespaces[] = $child->getAttribute('Namespace');
            }
        }
        $uri = $node->getAttribute('Uri') ?: $node->getAttribute('Url');
        if ($uri !== '') {
            $collected->references[$uri] = $namespaces;
        }
    }

    private function expand(\XMLReader $reader): \DOMElement
    {
        $node = @$reader->expand(new \DOMDocument);

        return $node instanceof \DOMElement ? $node : throw $this->broken();
    }

    private function step(bool $read): bool
    {
        return $read || libxml_get_last_error() === false ? $read : throw $this->broken();
    }

    private function broken(): UnreadableMetadata
    {
        $errors = libxml_get_errors();
        $error = $errors[0] ?? null;

        return UnreadableMetadata::isNoXml(rtrim($error->message ?? 'it breaks off', ". \n"), $error->line ?? 1);
    }
}
