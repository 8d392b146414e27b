<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\OData\Filter\Check;
use DeepSpring\OData\Filter\Condition;
use DeepSpring\OData\Filter\Conditions;
use DeepSpring\OData\Filter\FilterParser;
use DeepSpring\OData\Filter\InvalidFilter;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FilterTest extends TestCase
{
    /**
     * Filters of the specification's examples, on the registrar.
     *
     * @return iterable<array{int, string, string}>
     */
    public static function sound(): iterable
    {
        yield from [
            [4, 'Objects', "Title eq 'Milk'"], [4, 'Objects', 'Value gt 20.5 and (OnLoan or not OnLoan)'], [4, 'Objects', 'not (Value le 3.5)'], [4, 'Objects', "endswith(Title,'trap')"], [4, 'Objects', 'Acquired lt 2030-05-01'], [4, 'Objects', 'Changed ge 2030-05-01T00:00:00Z'], [4, 'Objects', "Title in ('Eel trap','Storm glass')"], [4, 'Objects', 'Value add 5 gt 10 mul 2'], [4, 'Objects', 'Value div 2 sub -3 eq 1'], [4, 'Objects', '-Value lt 5'],
            [4, 'Objects', "MadeOf/any(m:m eq 'oak')"], [4, 'Objects', 'Reports/any()'], [4, 'Objects', "Reports/all(r:r/Grade eq Saltmarsh.Registrar.Grade'Sound')"], [4, 'Objects', 'Reports/$count gt 2'], [4, 'Objects', "Venue/Address/Town eq 'Osmery'"], [4, 'Objects', "Reports/any(r:r/Courier/Name eq 'O''Shee' and r/Line gt 1)"], [4, 'Objects', 'Mark eq 0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'], [4, 'Objects', 'Weight eq null'], [4, 'Objects', "year(Acquired) eq 1999 and contains(tolower(Title),'glass')"], [4, 'Objects', 'date(Changed) eq 2030-05-01 and now() gt Changed'],
            // Functions and types of the service, keys, parameters, literals (OData 4.01 ABNF).
            [4, 'Objects', 'Saltmarsh.Registrar.Worth(factor=1.5) gt 3'], [4, 'Objects', "Saltmarsh.Registrar.Near(place='Quay',within=3)"], [4, 'Objects', '$it/Saltmarsh.Registrar.Worth() gt 3'], [4, 'Objects', 'Reports/Saltmarsh.Registrar.Latest(count=2)/Line gt 1'], [4, 'Objects', 'Saltmarsh.Registrar.Worth(factor=@f) gt Value'],
            [4, 'Objects', 'isof(Saltmarsh.Registrar.Object)'], [4, 'Objects', 'isof(Title,Edm.String) and cast(Value,Edm.Int32) gt 3'], [4, 'Objects', 'cast(MadeOf,Collection(Edm.String)) ne null'], [4, 'Objects', '$root/Venues(3)/Name eq Title'], [4, 'Objects', "\$root/Venues('q')/Saltmarsh.Registrar.Venue/Name eq 'x'"], [4, 'Objects', 'Reports/$filter(@this/Line gt 1)/$count gt 2'],
            [4, 'Objects', 'Title in MadeOf'], [4, 'Objects', 'Value in (1,2.5,-3)'], [4, 'Objects', "case(Value gt 3:'dear',true:'cheap') eq 'dear'"], [4, 'Objects', 'MadeOf eq ["oak","[pine]"]'], [4, 'Objects', 'Venue/Address eq {"Town":"Osmery","More":{"a":[1]}}'], [4, 'Objects', 'MadeOf/any()'], [4, 'Objects', 'not Reports/any() and Value gt 1'], [4, 'Objects', 'Venue/Saltmarsh.Registrar.Objects(kind=1)/any(o:o/Value gt 1)'],
            [4, 'Venues', "Climate eq 'Sealed'"], [4, 'Exhibitions', 'Doors gt 09:30:00'], [4, 'Venues', 'Objects/any(o:o/Exhibitions/any(e:e/ID eq 3 and o/OnLoan))'], [4, 'Objects', '$it/Value gt 3'], [4, 'ConditionReports', "Grade in ('Sound','Worn')"],
            [2, 'Objects', "substringof('glass',Title)"], [2, 'Objects', "Acquired ge datetime'2030-05-01T00:00:00' and Value gt 1M"], [2, 'Objects', "Mark eq guid'0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'"], [2, 'Couriers', 'Mileage eq 64L'], [2, 'Exhibitions', "Doors gt time'PT9H'"], [2, 'Objects', "Changed gt datetimeoffset'2030-05-01T00:00:00Z'"], [2, 'Objects', "Venue/Name eq 'Rope Walk' or startswith(Title,'Salt') eq true"],
        ];
    }

    #[DataProvider('sound')]
    public function test_a_sound_filter_is_left_alone(int $version, string $set, string $filter): void
    {
        self::assertSame([], self::check($version, $set, $filter));
    }

    /**
     * @return iterable<array{int, string, string, string, int, string|null}> …, what is said, where, what to write instead
     */
    public static function doubtful(): iterable
    {
        yield from [
            [4, 'Objects', "Titel eq 'x'", '"Title" was probably meant', 0, 'Title'], [4, 'Objects', "Remarks eq 'x'", 'cannot filter by Remarks', 0, null], [4, 'Objects', 'Title eq 7', 'written \'7\'', 9, "'7'"], [4, 'Objects', "Value gt '7'", 'written 7', 9, '7'],
            [4, 'Objects', "Acquired lt datetime'2030-05-01T00:00:00'", 'Version 4 writes 2030-05-01T00:00:00Z', 12, '2030-05-01T00:00:00Z'], [4, 'Objects', 'Changed gt 2030-05-01', 'written 2030-05-01T00:00:00Z', 11, '2030-05-01T00:00:00Z'], [4, 'Objects', "substringof('x',Title)", 'the text first', 0, null], [4, 'Objects', "contians(Title,'x')", '"contains" was probably meant', 0, 'contains'], [4, 'Objects', 'contains(Title)', 'takes 2 values', 0, null], [4, 'Objects', "contains(Value,'1')", 'looks into texts', 9, null],
            [4, 'Objects', "Reports/Grade eq 'x'", 'is a collection', 0, null], [4, 'Objects', 'Title', 'true or false for each record', 0, null], [4, 'Venues', "Climate eq 'Damp'", 'no member of Saltmarsh.Registrar.Climate', 11, null], [4, 'Objects', "Venue/Adress/Town eq 'x'", '"Address" was probably meant', 0, null], [4, 'Objects', 'Value gt 1M', 'Version 4 writes 1', 9, '1'],
            [4, 'Couriers', 'Mileage eq 9223372036854775808', 'between -9223372036854775808 and 9223372036854775807', 11, null], [2, 'Couriers', 'Mileage eq 9223372036854775808L', 'between -9223372036854775808 and 9223372036854775807', 11, null], [4, 'ConditionReports', 'Line eq 2147483648', 'between -2147483648 and 2147483647', 8, null],
            [2, 'Objects', "contains(Title,'x')", 'the part first', 0, null], [2, 'Objects', 'Acquired gt 2030-05-01', "writes datetime'2030-05-01T00:00:00'", 12, "datetime'2030-05-01T00:00:00'"], [2, 'Objects', "Title in ('a','b')", 'has no "in"', 6, null], [2, 'Objects', 'Reports/any(r:r/Line gt 1)', 'cannot look into a collection', 8, null], [2, 'Objects', "Remarks eq 'x'", 'cannot filter by Remarks', 0, null], [2, 'Objects', 'Mark eq 0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0', "writes guid'0f1e", 8, "guid'0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'"], [2, 'Objects', "Acquired eq '2030-05-01'", "written datetime'2030-05-01T00:00:00'", 12, "datetime'2030-05-01T00:00:00'"],
        ];
    }

    #[DataProvider('doubtful')]
    public function test_what_a_service_would_refuse_is_told_at_its_place(int $version, string $set, string $filter, string $says, int $at, ?string $instead): void
    {
        $findings = self::check($version, $set, $filter);
        self::assertCount(1, $findings, (string) json_encode($findings));
        self::assertStringContainsString($says, $findings[0]->sentence);
        self::assertSame([$at, $instead], [$findings[0]->at, $findings[0]->instead]);
    }

    /**
     * @return iterable<array{string, string, int}>
     */
    public static function broken(): iterable
    {
        yield from [
            ["Title eq 'open", 'no closing quote', 9], ['Title = 1', '"eq" instead of "="', 6], ['Value >= 1', '"ge" instead of ">="', 6], ['a eq', 'the filter ends', 4], ['(a eq 1', '")" was expected', 7], ['a eq 1 b eq 2', '"and" or "or"', 7], ['a eq §', 'does not belong here', 5], ['any(x)/y eq 1', 'was expected', 6], ['Größe eq §', 'Character 10', 9], ['r/any(1)', 'a variable', 6], ['', 'the filter ends', 0], [str_repeat('(', 3000).'a'.str_repeat(')', 3000), 'nested deeper', 100], [str_repeat('not ', 3000).'a', 'nested deeper', 1984],
        ];
    }

    #[DataProvider('broken')]
    public function test_a_broken_filter_says_where(string $filter, string $says, int $at): void
    {
        try {
            FilterParser::parse($filter);
            self::fail('It was read.');
        } catch (InvalidFilter $invalid) {
            self::assertStringContainsString($says, $invalid->getMessage());
            self::assertSame($at, $invalid->at);
        }
    }

    /**
     * @return iterable<array{int, string, list<array{string, string, string}>, string}>
     */
    public static function conditions(): iterable
    {
        yield from [
            [4, 'Objects', [['Title', 'contains', "O'Shee"], ['Value', 'ge', '100.50']], "contains(Title,'O''Shee') and Value ge 100.50"],
            [4, 'Objects', [['Weight', 'empty', ''], ['Venue/Address/Town', 'eq', 'Osmery']], "Weight eq null and Venue/Address/Town eq 'Osmery'"],
            [4, 'Objects', [['Reports/Grade', 'eq', 'Fragile']], "Reports/any(x:x/Grade eq Saltmarsh.Registrar.Grade'Fragile')"],
            [4, 'Objects', [['MadeOf', 'eq', 'oak'], ['OnLoan', 'eq', 'true']], "MadeOf/any(x:x eq 'oak') and OnLoan eq true"],
            [4, 'Objects', [['Title', 'in', 'Eel trap, Storm glass']], "Title in ('Eel trap','Storm glass')"],
            [4, 'Objects', [['Reports/Courier/Name', 'startswith', 'Łucja']], "Reports/any(x:startswith(x/Courier/Name,'Łucja'))"],
            [4, 'Objects', [['Changed', 'gt', '2030-05-01']], 'Changed gt 2030-05-01T00:00:00Z'],
            [4, 'Objects', [['Title', 'eq', 'null']], "Title eq 'null'"],
            [2, 'Objects', [['Title', 'contains', 'glass'], ['Acquired', 'lt', '2030-05-01'], ['Value', 'ne', '1.50']], "substringof('glass',Title) and Acquired lt datetime'2030-05-01T00:00:00' and Value ne 1.50M"],
        ];
    }

    /**
     * @param  list<array{string, string, string}>  $conditions
     */
    #[DataProvider('conditions')]
    public function test_conditions_become_a_filter_that_is_sound_and_are_read_from_it_again(int $version, string $set, array $conditions, string $filter): void
    {
        $model = CsdlTest::registrar($version);
        $ours = new Conditions($model, CsdlTest::type($model, $set));
        $written = $ours->write(array_map(static fn (array $one): Condition => new Condition(...$one), $conditions));
        self::assertSame($filter, $written);
        self::assertSame([], self::check($version, $set, $written));
        self::assertSame($written, $ours->write($ours->read($written) ?? self::fail('It could not be read.')));
    }

    public function test_a_filter_that_conditions_cannot_say_is_left_as_a_text(): void
    {
        $model = CsdlTest::registrar(4);
        $ours = new Conditions($model, CsdlTest::type($model, 'Objects'));
        foreach (['OnLoan or Value gt 1', 'not OnLoan', 'Value add 1 gt 2', 'Reports/all(r:r/Line gt 1)', 'Reports/any(r:r/Line gt 1 or r/Line lt 9)', 'length(Title) gt 3', 'Nothing eq 1', '(('] as $filter) {
            self::assertNull($ours->read($filter), $filter);
        }
        self::assertSame([], $ours->read(' '));
    }

    public function test_an_order_is_looked_at_too(): void
    {
        $model = CsdlTest::registrar(4);
        $check = new Check($model, CsdlTest::type($model, 'Objects'), $model->set('Objects'));
        self::assertSame([], $check->order('Venue/Name desc, Value'));
        self::assertStringContainsString('cannot sort by Remarks', $check->order('Title,Remarks asc')[0]->sentence);
        self::assertStringContainsString('"Title" was probably meant', $check->order('Titel desc')[0]->sentence);
        self::assertStringContainsString('is a collection', $check->order('Reports/Line')[0]->sentence);
        self::assertStringContainsString('nothing to sort by', $check->order('Title,,Value')[0]->sentence);
    }

    public function test_a_filter_that_the_service_demands_is_missed(): void
    {
        $model = Metadata::model(Metadata::read('<edmx:Edmx Version="4.0" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices><Schema Namespace="S" xmlns="http://docs.oasis-open.org/odata/ns/edm"><EntityType Name="A"><Key><PropertyRef Name="ID"/></Key><Property Name="ID" Type="Edm.Int32"/><Property Name="House" Type="Edm.String"/></EntityType><EntityContainer Name="C"><EntitySet Name="As" EntityType="S.A"><Annotation Term="Org.OData.Capabilities.V1.FilterRestrictions"><Record><PropertyValue Property="RequiredProperties"><Collection><PropertyPath>House</PropertyPath></Collection></PropertyValue></Record></Annotation><Annotation Term="Org.OData.Capabilities.V1.FilterFunctions"><Collection><String>startswith</String></Collection></Annotation></EntitySet></EntityContainer></Schema></edmx:DataServices></edmx:Edmx>'));
        $check = new Check($model, CsdlTest::type($model, 'As'), $model->set('As'));
        self::assertStringContainsString('wants "House" in every filter', $check->filter('ID gt 1')[0]->sentence);
        self::assertStringContainsString('cannot use endswith', $check->filter("endswith(House,'x')")[0]->sentence);
        self::assertSame([], $check->filter("startswith(House,'x')"));
    }

    /**
     * @return list<\DeepSpring\OData\Filter\FilterFinding>
     */
    private static function check(int $version, string $set, string $filter): array
    {
        $model = CsdlTest::registrar($version);

        return (new Check($model, CsdlTest::type($model, $set), $model->set($set)))->filter($filter);
    }
}
