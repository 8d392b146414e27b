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
    public static function xml(array $entities, string $version): string
    {
        $xml = new \XMLWriter;
        $xml->openMemory();
        $xml->startDocument('1.0', 'UTF-8');
        $start = static function (string $name, array $attributes) use ($xml): void {
            $xml->startElement($name);
            foreach ($attributes as $attribute => $value) {
                $value === null || $xml->writeAttribute($attribute, $value);
            }
        };
        $start('edmx:Edmx', ['xmlns:edmx' => 'http://docs.oasis-open.org/odata/ns/edmx', 'Version' => $version]);
        $start('edmx:Reference', ['Uri' => self::CORE.'.xml']);
        $start('edmx:Include', ['Namespace' => 'Org.OData.Core.V1', 'Alias' => 'Core']);
        $xml->endElement();
        $xml->endElement();
        $start('edmx:DataServices', []);
        $start('Schema', ['xmlns' => 'http://docs.oasis-open.org/odata/ns/edm', 'Namespace' => self::NAMESPACE]);
        $about = static function (string $text) use ($xml, $start): void {
            if ($text !== '') {
                $start('Annotation', ['Term' => 'Core.Description', 'String' => $text]);
                $xml->endElement();
            }
        };
        foreach ($entities as $entity) {
            $start('EntityType', ['Name' => $entity->type()]);
            $start('Key', []);
            foreach ($entity->key as $column) {
                $start('PropertyRef', ['Name' => $column->name]);
                $xml->endElement();
            }
            $xml->endElement();
            foreach ($entity->columns as $column) {
                $start('Property', ['Name' => $column->name, 'Type' => $column->edm(), 'Nullable' => $column->isKey ? 'false' : null] + array_map(static fn (int|string $value): string => (string) $value, self::facets($column)));
                $about(self::about($column));
                $xml->endElement();
            }
            $xml->endElement();
        }
        $start('EntityContainer', ['Name' => 'Feeds']);
        foreach ($entities as $entity) {
            $start('EntitySet', ['Name' => $entity->set, 'EntityType' => self::NAMESPACE.'.'.$entity->type()]);
            $about(implode(': ', array_filter([$entity->feed->title, $entity->feed->about])));
            $xml->endElement();
        }
        for ($open = 4; $open > 0; $open--) {
            $xml->endElement();
        }
        $xml->endDocument();

        return $xml->outputMemory();
    }

    /**
     * @param  list<FeedEntity>  $entities
     * @return array<string, mixed>
     */
    public static function json(array $entities, string $version): array
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
            $schema[$entity->type()] = $type;
            $about = implode(': ', array_filter([$entity->feed->title, $entity->feed->about]));
            $container[$entity->set] = ['$Collection' => true, '$Type' => self::NAMESPACE.'.'.$entity->type()] + ($about === '' ? [] : ['@Core.Description' => $about]);
        }

        return ['$Version' => $version, '$EntityContainer' => self::NAMESPACE.'.Feeds', '$Reference' => [self::CORE.'.json' => ['$Include' => [['$Namespace' => 'Org.OData.Core.V1', '$Alias' => 'Core']]]], self::NAMESPACE => $schema + ['Feeds' => $container]];
    }

    /**
     * @return array<string, int|string>
     */
    private static function facets(FeedColumn $column): array
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
