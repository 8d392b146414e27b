<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * The value of an annotation: constants, collections and records; what is computed is left out
 * (OData CSDL XML 4.01 §14.3, §14.4). An annotation without a value says true, as tagging terms do.
 */
final class XmlValue
{
    private const CONSTANTS = ['String', 'Bool', 'Int', 'Decimal', 'Float', 'Date', 'DateTimeOffset', 'Duration', 'Guid', 'TimeOfDay', 'EnumMember', 'PropertyPath', 'NavigationPropertyPath', 'AnnotationPath', 'ModelElementPath', 'Path'];

    public static function of(\DOMElement $annotation): mixed
    {
        foreach (self::CONSTANTS as $name) {
            if ($annotation->hasAttribute($name)) {
                return self::constant($name, $annotation->getAttribute($name));
            }
        }
        foreach ($annotation->childNodes as $child) {
            if ($child instanceof \DOMElement && $child->localName !== 'Annotation') {
                return self::expression($child);
            }
        }

        return true;
    }

    private static function expression(\DOMElement $element): mixed
    {
        $name = (string) $element->localName;
        if ($name === 'Collection') {
            $items = [];
            foreach ($element->childNodes as $child) {
                if ($child instanceof \DOMElement) {
                    $items[] = self::expression($child);
                }
            }

            return $items;
        }
        if ($name === 'Record') {
            $record = [];
            foreach ($element->childNodes as $child) {
                if ($child instanceof \DOMElement && $child->localName === 'PropertyValue') {
                    $record[$child->getAttribute('Property')] = self::of($child);
                }
            }

            return $record;
        }

        return in_array($name, self::CONSTANTS, true) ? self::constant($name, trim($element->textContent)) : null;
    }

    private static function constant(string $name, string $text): string|int|bool
    {
        return match ($name) {
            'Bool' => $text === 'true',
            'Int' => (int) $text,
            default => $text,
        };
    }
}
