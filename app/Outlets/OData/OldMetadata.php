<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use DeepSpring\Feed\FeedColumn;

/**
 * What a service of feeds says of itself in version 2 ([CSDL 2.0]): ways are associations between two ends.
 */
final class OldMetadata
{
    /**
     * @param  list<FeedEntity>  $entities
     */
    public static function xml(array $entities, FeedLinks $links): string
    {
        $xml = new \XMLWriter;
        $xml->openMemory();
        $xml->startDocument('1.0', 'UTF-8');
        FeedMetadata::start($xml, 'edmx:Edmx', ['xmlns:edmx' => 'http://schemas.microsoft.com/ado/2007/06/edmx', 'Version' => '1.0']);
        FeedMetadata::start($xml, 'edmx:DataServices', ['xmlns:m' => 'http://schemas.microsoft.com/ado/2007/08/dataservices/metadata', 'm:DataServiceVersion' => '2.0']);
        FeedMetadata::start($xml, 'Schema', ['xmlns' => 'http://schemas.microsoft.com/ado/2008/09/edm', 'Namespace' => FeedMetadata::NAMESPACE]);
        $all = array_merge(...array_map($links->of(...), $entities));
        foreach ($entities as $entity) {
            self::entity($xml, $entity, $links->of($entity));
        }
        foreach ($all as $link) {
            self::association($xml, $link);
        }
        FeedMetadata::start($xml, 'EntityContainer', ['Name' => 'Feeds', 'm:IsDefaultEntityContainer' => 'true']);
        foreach ($entities as $entity) {
            FeedMetadata::whole($xml, 'EntitySet', ['Name' => $entity->set, 'EntityType' => FeedMetadata::NAMESPACE.'.'.$entity->type()]);
        }
        foreach ($all as $link) {
            FeedMetadata::start($xml, 'AssociationSet', ['Name' => self::nameOf($link).'_set', 'Association' => FeedMetadata::NAMESPACE.'.'.self::nameOf($link)]);
            FeedMetadata::whole($xml, 'End', ['Role' => 'here', 'EntitySet' => $link->from->set]);
            FeedMetadata::whole($xml, 'End', ['Role' => 'there', 'EntitySet' => $link->to->set]);
            $xml->endElement();
        }
        $xml->endDocument();

        return $xml->outputMemory();
    }

    /**
     * @param  list<FeedLink>  $links
     */
    private static function entity(\XMLWriter $xml, FeedEntity $entity, array $links): void
    {
        FeedMetadata::start($xml, 'EntityType', ['Name' => $entity->type()]);
        FeedMetadata::key($xml, $entity);
        foreach ($entity->columns as $column) {
            FeedMetadata::whole($xml, 'Property', ['Name' => $column->name, 'Type' => self::edm($column)] + ($column->isKey ? ['Nullable' => 'false'] : []) + array_map(strval(...), FeedMetadata::facets($column)));
        }
        foreach ($links as $link) {
            FeedMetadata::whole($xml, 'NavigationProperty', ['Name' => $link->name, 'Relationship' => FeedMetadata::NAMESPACE.'.'.self::nameOf($link), 'FromRole' => 'here', 'ToRole' => 'there']);
        }
        $xml->endElement();
    }

    private static function association(\XMLWriter $xml, FeedLink $link): void
    {
        FeedMetadata::start($xml, 'Association', ['Name' => self::nameOf($link)]);
        FeedMetadata::whole($xml, 'End', ['Type' => FeedMetadata::NAMESPACE.'.'.$link->from->type(), 'Multiplicity' => $link->isMany ? '0..1' : '*', 'Role' => 'here']);
        FeedMetadata::whole($xml, 'End', ['Type' => FeedMetadata::NAMESPACE.'.'.$link->to->type(), 'Multiplicity' => $link->isMany ? '*' : '0..1', 'Role' => 'there']);
        if (! $link->isMany) {
            FeedMetadata::start($xml, 'ReferentialConstraint');
            foreach (['Principal' => ['there', $link->there()], 'Dependent' => ['here', $link->here()]] as $end => [$role, $columns]) {
                FeedMetadata::start($xml, $end, ['Role' => $role]);
                foreach ($columns as $column) {
                    FeedMetadata::whole($xml, 'PropertyRef', ['Name' => $column->name]);
                }
                $xml->endElement();
            }
            $xml->endElement();
        }
        $xml->endElement();
    }

    private static function nameOf(FeedLink $link): string
    {
        return "{$link->from->set}_to_$link->name";
    }

    public static function edm(FeedColumn $column): string
    {
        return match ($column->type) {
            'date', 'datetime' => 'Edm.DateTime',
            'time' => 'Edm.Time',
            default => $column->edm(),
        };
    }
}
