<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use DeepSpring\Feed\FeedColumn;

/**
 * What a service of feeds says of itself, as XML and as JSON (OData CSDL XML 4.01, CSDL JSON 4.01).
 */
final class FeedMetadata
{
    public const NAMESPACE = 'DeepSpring.Feeds';

    private const CORE = 'https://docs.oasis-open.org/odata/odata-vocabularies/v4.0/vocabularies/Org.OData.Core.V1';

    /**
     * @param  list<FeedEntity>  $entities
     */
    public static function xml(array $entities, FeedLinks $links, string $version): string
    {
        $xml = new \XMLWriter;
        $xml->openMemory();
        $xml->startDocument('1.0', 'UTF-8');
        self::start($xml, 'edmx:Edmx', ['xmlns:edmx' => 'http://docs.oasis-open.org/odata/ns/edmx', 'Version' => $version]);
        self::start($xml, 'edmx:Reference', ['Uri' => self::CORE.'.xml']);
        self::whole($xml, 'edmx:Include', ['Namespace' => 'Org.OData.Core.V1', 'Alias' => 'Core']);
        $xml->endElement();
        self::start($xml, 'edmx:DataServices');
        self::start($xml, 'Schema', ['xmlns' => 'http://docs.oasis-open.org/odata/ns/edm', 'Namespace' => self::NAMESPACE]);
        foreach ($entities as $entity) {
            self::type($xml, $entity, $links->of($entity));
        }
        self::start($xml, 'EntityContainer', ['Name' => 'Feeds']);
        foreach ($entities as $entity) {
            self::start($xml, 'EntitySet', ['Name' => $entity->set, 'EntityType' => self::NAMESPACE.'.'.$entity->type()]);
            foreach ($links->of($entity) as $link) {
                self::whole($xml, 'NavigationPropertyBinding', ['Path' => $link->name, 'Target' => $link->to->set]);
            }
            self::describe($xml, implode(': ', array_filter([$entity->feed->title, $entity->feed->about])));
            $xml->endElement();
        }
        $xml->endDocument();

        return $xml->outputMemory();
    }

    /**
     * @param  list<FeedLink>  $links
     */
    private static function type(\XMLWriter $xml, FeedEntity $entity, array $links): void
    {
        self::start($xml, 'EntityType', ['Name' => $entity->type()]);
        self::key($xml, $entity);
        foreach ($entity->columns as $column) {
            self::start($xml, 'Property', ['Name' => $column->name, 'Type' => $column->edm()] + ($column->isKey ? ['Nullable' => 'false'] : []) + array_map(static fn (int|string $value): string => (string) $value, self::facets($column)));
            self::describe($xml, self::about($column));
            $xml->endElement();
        }
        foreach ($links as $link) {
            $type = self::NAMESPACE.'.'.$link->to->type();
            self::start($xml, 'NavigationProperty', ['Name' => $link->name, 'Type' => $link->isMany ? "Collection($type)" : $type]);
            foreach ($link->isMany ? [] : $link->pairs as [$here, $there]) {
                self::whole($xml, 'ReferentialConstraint', ['Property' => $here->name, 'ReferencedProperty' => $there->name]);
            }
            $xml->endElement();
        }
        $xml->endElement();
    }

    public static function key(\XMLWriter $xml, FeedEntity $entity): void
    {
        self::start($xml, 'Key');
        foreach ($entity->key as $column) {
            self::whole($xml, 'PropertyRef', ['Name' => $column->name]);
        }
        $xml->endElement();
    }

    /**
     * @param  array<string, string>  $attributes
     */
    public static function start(\XMLWriter $xml, string $name, array $attributes = []): void
    {
        $xml->startElement($name);
        foreach ($attributes as $attribute => $value) {
            $xml->writeAttribute($attribute, $value);
        }
    }

    /**
     * @param  array<string, string>  $attributes
     */
    public static function whole(\XMLWriter $xml, string $name, array $attributes): void
    {
        self::start($xml, $name, $attributes);
        $xml->endElement();
    }

    private static function describe(\XMLWriter $xml, string $text): void
    {
        $text === '' || self::whole($xml, 'Annotation', ['Term' => 'Core.Description', 'String' => $text]);
    }

    /**
     * @param  list<FeedEntity>  $entities
     * @return array<string, mixed>
     */
    public static function json(array $entities, FeedLinks $links, string $version): array
    {
        $schema = [];
        $container = ['$Kind' => 'EntityContainer'];
        foreach ($entities as $entity) {
            $type = ['$Kind' => 'EntityType', '$Key' => array_map(static fn (FeedColumn $column): string => $column->name, $entity->key)];
            foreach ($entity->columns as $column) {
                $about = self::about($column);
                $type[$column->name] = ($column->edm() === 'Edm.String' ? [] : ['$Type' => $column->edm()]) + ($column->isKey ? [] : ['$Nullable' => true]) + array_combine(array_map(static fn (string $name): string => "\$$name", array_keys(self::facets($column))), self::facets($column)) + ($about === '' ? [] : ['@Core.Description' => $about]);
                $type[$column->name] = $type[$column->name] === [] ? new \stdClass : $type[$column->name];
            }
            $bindings = [];
            foreach ($links->of($entity) as $link) {
                $constraints = $link->isMany ? [] : array_combine(array_map(static fn (FeedColumn $column): string => $column->name, $link->here()), array_map(static fn (FeedColumn $column): string => $column->name, $link->there()));
                $type[$link->name] = ['$Kind' => 'NavigationProperty', '$Type' => self::NAMESPACE.'.'.$link->to->type()] + ($link->isMany ? ['$Collection' => true] : ['$Nullable' => true, '$ReferentialConstraint' => $constraints]);
                $bindings[$link->name] = $link->to->set;
            }
            $schema[$entity->type()] = $type;
            $about = implode(': ', array_filter([$entity->feed->title, $entity->feed->about]));
            $container[$entity->set] = ['$Collection' => true, '$Type' => self::NAMESPACE.'.'.$entity->type()] + ($bindings === [] ? [] : ['$NavigationPropertyBinding' => $bindings]) + ($about === '' ? [] : ['@Core.Description' => $about]);
        }

        return ['$Version' => $version, '$EntityContainer' => self::NAMESPACE.'.Feeds', '$Reference' => [self::CORE.'.json' => ['$Include' => [['$Namespace' => 'Org.OData.Core.V1', '$Alias' => 'Core']]]], self::NAMESPACE => $schema + ['Feeds' => $container]];
    }

    /**
     * @return array<string, int|string>
     */
    public static function facets(FeedColumn $column): array
    {
        return match ($column->type) {
            'decimal' => ['Precision' => 65, 'Scale' => $column->scale ?? 30],
            'datetime', 'time' => ['Precision' => 6],
            default => [],
        };
    }

    private static function about(FeedColumn $column): string
    {
        return implode(': ', array_filter([trim("$column->title".($column->unit === '' ? '' : " ($column->unit)")), $column->about]));
    }
}
