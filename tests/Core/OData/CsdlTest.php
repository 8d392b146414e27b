<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\OData\Csdl\UnreadableMetadata;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Property;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\ODataVersion;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CsdlTest extends TestCase
{
    public function test_the_registrar_says_the_same_in_both_versions(): void
    {
        foreach ([4, 2] as $version) {
            $model = self::registrar($version);
            self::assertSame(ODataVersion::from($version), $model->version);
            $names = array_map(static fn (EntitySet $set): string => $set->name, array_filter($model->sets(), static fn (EntitySet $set): bool => ! $set->single));
            self::assertSame(['Venues', 'Objects', 'Exhibitions', 'Couriers', 'ConditionReports'], array_values($names));
            $reports = self::type($model, 'ConditionReports');
            self::assertSame(['ObjectNumber', 'Line'], array_map(static fn (KeyPart $part): string => $part->path, $reports->key));
            $objects = self::type($model, 'Objects');
            self::assertSame(['Venue' => '0..1', 'Exhibitions' => '*', 'Reports' => '*'], array_map(static fn ($way): string => $way->multiplicity(), $objects->navigations));
            self::assertSame('Objects', $objects->navigation('Venue')?->partner);
            self::assertSame(['VenueSlug' => 'Slug'], $objects->navigation('Venue')?->constraints);
            self::assertSame('ConditionReports', $model->target($model->set('Objects') ?? self::fail(), 'Reports')?->name);
            self::assertFalse($model->set('Couriers')?->can('count'));
            self::assertFalse($model->set('Venues')?->can('insert'));
            self::assertTrue($model->set('Objects')?->can('insert'));
        }
    }

    public function test_facets_units_labels_and_what_is_restricted_are_known(): void
    {
        $two = self::type(self::registrar(2), 'Objects');
        self::assertSame(['Inventory number', 12], [$two->property('Number')?->label, $two->property('Number')?->length]);
        self::assertSame([false, false, true], [$two->property('Remarks')?->filterable, $two->property('Remarks')?->sortable, $two->property('Title')?->filterable]);
        self::assertSame([12, 2, 'Currency'], [$two->property('Value')?->precision, $two->property('Value')?->scale, $two->property('Value')?->unit]);
        self::assertTrue($two->property('Changed')?->isETag);
        $four = self::registrar(4);
        self::assertSame(['Remarks'], $four->set('Objects')?->not('filter'));
        self::assertTrue($four->set('Objects')?->hasETag());
        self::assertTrue($four->set('ConditionReports')?->saysItCan('track'));
        self::assertSame(['kg', 'As it stands over the door'], [self::type($four, 'Objects')->property('Weight')?->unit, self::type($four, 'Venues')->property('Name')?->about]);
        self::assertTrue(self::type($four, 'Objects')->property('Mark')?->computed);
        self::assertSame(['Open' => 0, 'Steady' => 1, 'Sealed' => 2], $four->members('Saltmarsh.Registrar.Climate'));
        self::assertSame(['Edm.Decimal', ['precision' => '12', 'scale' => '2']], [$four->primitive('Saltmarsh.Registrar.Money'), array_intersect_key($four->facets('Saltmarsh.Registrar.Money'), ['precision' => 1, 'scale' => 1])]);
    }

    public function test_operations_are_bound_or_free(): void
    {
        $found = [];
        foreach ([4, 2] as $version) {
            foreach (self::registrar($version)->operations() as $one) {
                $found[] = [$version, $one->shortName(), $one->isAction, $one->on === null ? null : substr($one->on, -10), array_map(static fn (Property $parameter): string => "{$parameter->name} {$parameter->type}", $one->parameters), $one->returnsMany, $one->method];
            }
        }
        self::assertSame([
            [4, 'Similar', false, 'rar.Object', ['most Edm.Int32'], true, 'GET'],
            [4, 'Extend', true, 'Exhibition', ['days Edm.Int32', 'reason Edm.String'], false, 'POST'],
            [4, 'OnDisplay', false, null, ['day Edm.Date'], true, 'GET'],
            [2, 'OnDisplay', false, null, ['day Edm.DateTime'], true, 'GET'],
            [2, 'Extend', true, null, ['ID Edm.Int32', 'days Edm.Int32'], false, 'POST'],
        ], $found);
    }

    public function test_types_inherit_and_can_be_open_abstract_and_keyed_by_a_path(): void
    {
        $model = self::four('
            <EntityType Name="Thing" Abstract="true" OpenType="true"><Key><PropertyRef Name="Place/Shelf" Alias="Shelf"/></Key><Property Name="Place" Type="S.Place" Nullable="false"/></EntityType>
            <EntityType Name="Crate" BaseType="S.Thing"><Property Name="Lids" Type="Collection(Edm.Int32)"/></EntityType>
            <EntityType Name="SealedCrate" BaseType="Saltmarsh.Stores.Crate"><Property Name="Seal" Type="Edm.Guid"/></EntityType>
            <ComplexType Name="Place"><Property Name="Shelf" Type="Edm.String" MaxLength="max"/></ComplexType>
            <EntityContainer Name="C"><EntitySet Name="Crates" EntityType="S.SealedCrate"/></EntityContainer>');
        $type = self::type($model, 'Crates');
        self::assertSame(['Place', 'Lids', 'Seal'], array_keys($type->properties));
        self::assertEquals([new KeyPart('Place/Shelf', 'Shelf')], $type->key);
        self::assertTrue($type->open);
        self::assertFalse($type->abstract);
        self::assertSame('list of Int32', $type->property('Lids')?->typed());
        self::assertNull($model->type('Saltmarsh.Stores.Place')?->property('Shelf')?->length);
        self::assertSame(['Saltmarsh.Stores.Thing', 'Saltmarsh.Stores.Crate', 'Saltmarsh.Stores.SealedCrate'], $model->derived('Saltmarsh.Stores.Thing'));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function contradictions(): iterable
    {
        $edmx = static fn (string $schema, string $version = '4.0'): string => "<edmx:Edmx Version=\"$version\" xmlns:edmx=\"http://docs.oasis-open.org/odata/ns/edmx\"><edmx:DataServices><Schema Namespace=\"S\" xmlns=\"http://docs.oasis-open.org/odata/ns/edm\">$schema<EntityContainer Name=\"C\"><EntitySet Name=\"As\" EntityType=\"S.A\"/></EntityContainer></Schema></edmx:DataServices></edmx:Edmx>";
        yield 'types based on each other' => [$edmx('<EntityType Name="A" BaseType="S.B"><Property Name="X" Type="Edm.String"/></EntityType><EntityType Name="B" BaseType="S.A"/>'), 'in a circle: S.A → S.B → S.A.'];
        yield 'a type based on itself, below another' => [$edmx('<EntityType Name="A" BaseType="S.B"/><ComplexType Name="B" BaseType="S.B"/>'), 'in a circle: S.B → S.B.'];
        yield 'a property that stands twice' => [$edmx('<EntityType Name="A"><Property Name="X" Type="Edm.String"/><Property Name="X" Type="Edm.Int32"/></EntityType>'), 'declares S.A/X twice'];
        yield 'navigation called like a property' => [$edmx('<EntityType Name="A"><Property Name="X" Type="Edm.String"/><NavigationProperty Name="X" Type="S.A"/></EntityType>'), 'declares S.A/X twice'];
        yield 'a version nobody knows' => [$edmx('<EntityType Name="A"/>', '5.0'), 'is of version 5.0; versions 1 to 4.01 are read'];
        yield 'a version of JSON nobody knows' => ['{"$Version":"6.1","S":{"A":{"$Kind":"EntityType"},"C":{"$Kind":"EntityContainer","As":{"$Collection":true,"$Type":"S.A"}}}}', 'is of version 6.1'];
        yield 'a property that stands twice in JSON' => ['{"$Version":"4.01","S":{"A":{"$Kind":"EntityType","X":{},"X":{"$Type":"Edm.Int32"}},"C":{"$Kind":"EntityContainer","As":{"$Collection":true,"$Type":"S.A"}}}}', 'declares S/A/X twice'];
    }

    #[DataProvider('contradictions')]
    public function test_metadata_that_contradict_themselves_are_refused_in_a_sentence(string $document, string $why): void
    {
        $this->expectException(UnreadableMetadata::class);
        $this->expectExceptionMessage($why);
        Metadata::model(Metadata::read($document));
    }

    public function test_what_stands_twice_in_the_same_words_is_one_and_a_container_may_extend_itself(): void
    {
        $model = self::four('<EntityType Name="A"><Property Name="X" Type="Edm.String"/><Property Name="X" Type="Edm.String"/></EntityType><EntityContainer Name="C" Extends="S.C"><EntitySet Name="As" EntityType="S.A"/></EntityContainer>');
        self::assertSame(['X'], array_keys(self::type($model, 'As')->properties));
    }

    public function test_containers_take_in_what_they_extend(): void
    {
        $model = self::four('
            <EntityType Name="A"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/></EntityType>
            <EntityContainer Name="Base"><EntitySet Name="Olds" EntityType="S.A"><Annotation Term="Core.Description" String="From the base"/></EntitySet></EntityContainer>
            <EntityContainer Name="Whole" Extends="S.Base"><Annotation Term="Capabilities.FilterFunctions"><Collection><String>contains</String></Collection></Annotation><EntitySet Name="News" EntityType="S.A"/><Singleton Name="One" Type="S.A"/></EntityContainer>');
        self::assertSame(['News', 'One', 'Olds'], array_map(static fn (EntitySet $set): string => $set->name, $model->sets()));
        self::assertSame(['From the base', true, 'Saltmarsh.Stores.Whole'], [$model->set('Olds')?->about, $model->set('One')?->single, $model->set('Olds')?->container]);
        self::assertSame(['contains'], $model->set('News')?->functions());
    }

    public function test_annotations_stand_inside_or_apart_and_are_qualified(): void
    {
        $model = self::four('
            <EntityType Name="A"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/><Property Name="Depth" Type="Edm.Decimal" Precision="9" Scale="variable"/></EntityType>
            <EntityContainer Name="C"><EntitySet Name="As" EntityType="S.A"/></EntityContainer>
            <Annotations Target="S.A/Depth" Qualifier="Screen"><Annotation Term="Common.Label" String="Depth under the lamp"/><Annotation Term="Measures.Unit" String="mm"/></Annotations>
            <Annotations Target="S.C/As"><Annotation Term="Capabilities.FilterRestrictions"><Record><PropertyValue Property="RequiresFilter" Bool="true"/><PropertyValue Property="RequiredProperties"><Collection><PropertyPath>Depth</PropertyPath></Collection></PropertyValue></Record></Annotation><Annotation Term="Capabilities.UpdateRestrictions"><Record><PropertyValue Property="UpdateMethod" EnumMember="Capabilities.HttpMethod/PUT"/></Record></Annotation></Annotations>');
        $depth = self::type($model, 'As')->property('Depth');
        self::assertSame(['Depth under the lamp', 'mm', true, null], [$depth?->label, $depth?->unit, $depth?->scaleVaries, $depth?->scale]);
        self::assertSame([true, ['Depth'], 'PUT'], [$model->set('As')?->needsFilter(), $model->set('As')?->requiredInFilter(), $model->set('As')?->updateMethod()]);
    }

    public function test_references_to_other_documents_are_named_but_vocabularies_are_not(): void
    {
        $collected = Metadata::read('<edmx:Edmx Version="4.0" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:Reference Uri="types/$metadata"><edmx:Include Namespace="Saltmarsh.Types" Alias="T"/></edmx:Reference><edmx:Reference Uri="v/Core.xml"><edmx:Include Namespace="Org.OData.Core.V1" Alias="Core"/></edmx:Reference><edmx:DataServices><Schema Namespace="Saltmarsh.Main" xmlns="http://docs.oasis-open.org/odata/ns/edm"><EntityContainer Name="C"><EntitySet Name="Nets" EntityType="T.Net"/></EntityContainer></Schema></edmx:DataServices></edmx:Edmx>');
        self::assertSame(['types/$metadata'], Metadata::needs($collected));
        $collected->add(Metadata::read('<Schema Namespace="Saltmarsh.Types" xmlns="http://docs.oasis-open.org/odata/ns/edm"><EntityType Name="Net"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/></EntityType></Schema>'));
        self::assertSame([], Metadata::needs($collected));
        self::assertSame(['ID'], array_keys(self::type(Metadata::model($collected), 'Nets')->properties));
    }

    public function test_csdl_in_json_says_the_same_as_in_xml(): void
    {
        $model = Metadata::model(Metadata::read((string) json_encode([
            '$Version' => '4.01', '$EntityContainer' => 'Saltmarsh.Stores.C', '$Reference' => ['types.json' => ['$Include' => [['$Namespace' => 'Org.OData.Core.V1', '$Alias' => 'Core']]]],
            'Saltmarsh.Stores' => [
                '$Alias' => 'S',
                'Kind' => ['$Kind' => 'EnumType', 'Dry' => 0, 'Dry@Core.Description' => 'No water', 'Wet' => 5],
                'Depth' => ['$Kind' => 'TypeDefinition', '$UnderlyingType' => 'Edm.Decimal', '$Precision' => 5, '$Scale' => 1],
                'Crate' => ['$Kind' => 'EntityType', '$Key' => ['ID', ['Shelf' => 'Place/Shelf']], 'ID' => ['$Type' => 'Edm.Int32'], 'Name' => ['$Nullable' => true, '$MaxLength' => 40, '@Core.Description' => 'Painted on the lid'], 'Kinds' => ['$Type' => 'S.Kind', '$Collection' => true], 'Place' => ['$Type' => 'S.Place'], 'House' => ['$Kind' => 'NavigationProperty', '$Type' => 'S.House', '$Partner' => 'Crates', '$ReferentialConstraint' => ['HouseID' => 'ID']]],
                'House' => ['$Kind' => 'EntityType', '$BaseType' => 'S.Crate', '$OpenType' => true, 'Crates' => ['$Kind' => 'NavigationProperty', '$Collection' => true, '$Type' => 'S.Crate', '$ContainsTarget' => true]],
                'Place' => ['$Kind' => 'ComplexType', 'Shelf' => ['$Type' => 'S.Depth']],
                'Nearest' => [['$Kind' => 'Function', '$Parameter' => [['$Name' => 'km', '$Type' => 'Edm.Int16']], '$ReturnType' => ['$Type' => 'S.House']]],
                'C' => ['$Kind' => 'EntityContainer', 'Crates' => ['$Collection' => true, '$Type' => 'S.Crate', '$NavigationPropertyBinding' => ['House' => 'Houses']], 'Houses' => ['$Collection' => true, '$Type' => 'S.House', '@Capabilities.CountRestrictions' => ['Countable' => false]], 'Nearest' => ['$Function' => 'S.Nearest', '$EntitySet' => 'Houses']],
                '$Annotations' => ['S.C/Crates' => ['@Core.Description' => 'All crates']],
            ],
        ])));
        $crate = self::type($model, 'Crates');
        self::assertSame(['Int32', 'String(40)', 'list of Kind', 'Place'], array_values(array_map(static fn (Property $one): string => $one->typed(), $crate->properties)));
        self::assertSame([false, true], [$crate->property('ID')?->nullable, $crate->property('Name')?->nullable]);
        self::assertEquals([new KeyPart('ID', 'ID'), new KeyPart('Place/Shelf', 'Shelf')], $crate->key);
        self::assertSame(['Painted on the lid', 'All crates'], [$crate->property('Name')?->about, $model->set('Crates')?->about]);
        self::assertSame(['Houses', 'Crates', false], [$model->target($model->set('Crates') ?? self::fail(), 'House')?->name, $crate->navigation('House')?->partner, $model->set('Houses')?->can('count')]);
        self::assertTrue(self::type($model, 'Houses')->navigation('Crates')?->contains);
        self::assertSame(['Nearest', 'Saltmarsh.Stores.House', ['Dry' => 0, 'Wet' => 5], 'Edm.Decimal'], [$model->operations()[0]->name, $model->operations()[0]->returns, $model->members('Saltmarsh.Stores.Kind'), $model->primitive('Saltmarsh.Stores.Depth')]);
    }

    public function test_what_has_no_name_is_left_out(): void
    {
        $model = self::four('<EntityType Name="A"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/><Property Name="" Type="Edm.Int32"/><Property Name="7" Type="Edm.Int32"/><Property Name="a/b" Type="Edm.Int32"/><Property Name="Größe" Type="Edm.Int32"/><NavigationProperty Name="&#10;" Type="S.A"/></EntityType><EntityContainer Name="C"><EntitySet Name="" EntityType="S.A"/><EntitySet Name="As" EntityType="S.A"/><EntitySet Name="Bs/../x" EntityType="S.A"/><Singleton Name="Nobody" Type="S.Nothing"/></EntityContainer>');
        self::assertSame(['As', 'Nobody'], array_map(static fn (EntitySet $set): string => $set->name, $model->sets()));
        self::assertSame([['ID', 'Größe'], []], [array_keys(self::type($model, 'As')->properties), self::type($model, 'As')->navigations]);
        self::assertNull($model->typeOf($model->set('Nobody') ?? self::fail()));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function unreadable(): iterable
    {
        yield 'nothing' => ['', 'no well-formed XML'];
        yield 'a page' => ['<!doctype html><title>Sign in</title>', 'web page'];
        yield 'another document' => ['<feed/>', 'begins with <feed>'];
        yield 'broken off' => ['<edmx:Edmx xmlns:edmx="x" Version="4.0"><edmx:DataServices><Schema Namespace="A"><EntityType Name="B">', 'line 1'];
        yield 'an entity bomb' => ['<!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;">]><edmx:Edmx xmlns:edmx="x">&c;</edmx:Edmx>', 'document type'];
        yield 'an entity bomb below a comment' => ['<?xml version="1.0"?><!--'.str_repeat('x', 5000).'--><!DOCTYPE a [<!ENTITY b "bbbb">]><edmx:Edmx xmlns:edmx="x">&b;</edmx:Edmx>', 'document type'];
        yield 'no schema' => ['<edmx:Edmx xmlns:edmx="x" Version="4.0"/>', 'no schema'];
        yield 'no container' => ['<Schema Namespace="A"><EntityType Name="B"/></Schema>', 'no entity container'];
        yield 'no JSON' => ['{"$Version": ', 'no JSON'];
        yield 'another JSON' => ['{"a": 1}', 'no $Version'];
    }

    #[DataProvider('unreadable')]
    public function test_what_cannot_be_read_says_why(string $document, string $says): void
    {
        $this->expectException(UnreadableMetadata::class);
        $this->expectExceptionMessage($says);
        Metadata::model(Metadata::read($document));
    }

    public static function registrar(int $version): Model
    {
        return Metadata::model(Metadata::read((string) file_get_contents(dirname(__DIR__, 3)."/standins/registrar/metadata-$version.xml")));
    }

    public static function four(string $elements): Model
    {
        return Metadata::model(Metadata::read('<edmx:Edmx Version="4.01" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices><Schema Namespace="Saltmarsh.Stores" Alias="S" xmlns="http://docs.oasis-open.org/odata/ns/edm">'.$elements.'</Schema></edmx:DataServices></edmx:Edmx>'));
    }

    public static function type(Model $model, string $set): StructuredType
    {
        return $model->type($model->set($set)->type ?? '') ?? self::fail("There is no type of $set.");
    }
}
