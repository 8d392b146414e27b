<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\EdmValue;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\SetChoice;
use DeepSpring\OData\Url\Address;
use DeepSpring\OData\Url\InvalidLiteral;
use DeepSpring\OData\Url\ODataLiteral;
use DeepSpring\OData\Url\QueryOptions;
use DeepSpring\Value\JsonText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Literals as OData 4.01 ABNF (`primitiveLiteral`) and [URI conventions 2.0] §2.2.2 have them.
 */
final class AddressTest extends TestCase
{
    /**
     * @return iterable<array{int, string, string, string}> version, type, typed, written
     */
    public static function literals(): iterable
    {
        yield from [
            [4, 'Edm.String', 'Eel trap', "'Eel trap'"], [4, 'Edm.String', "O'Shee", "'O''Shee'"], [4, 'Edm.String', '', "''"], [4, 'Edm.String', '007', "'007'"],
            [4, 'Edm.Boolean', 'true', 'true'], [4, 'Edm.Int32', '-7', '-7'], [4, 'Edm.Int64', '9007199254740993', '9007199254740993'], [4, 'Edm.Decimal', '12.50', '12.50'], [4, 'Edm.Double', '3.14e2', '3.14e2'], [4, 'Edm.Double', 'INF', 'INF'], [4, 'Edm.SByte', '-128', '-128'],
            [4, 'Edm.Date', '2030-05-01', '2030-05-01'], [4, 'Edm.DateTimeOffset', '2030-05-01T09:30:00Z', '2030-05-01T09:30:00Z'], [4, 'Edm.DateTimeOffset', '2030-05-01', '2030-05-01T00:00:00Z'], [4, 'Edm.DateTimeOffset', '2030-05-01 09:30', '2030-05-01T09:30Z'], [4, 'Edm.DateTimeOffset', '2030-05-01T09:30:00+02:00', '2030-05-01T09:30:00+02:00'],
            [4, 'Edm.TimeOfDay', '07:59:59.999', '07:59:59.999'], [4, 'Edm.Duration', 'P12DT23H59M59.99S', "duration'P12DT23H59M59.99S'"], [4, 'Edm.Guid', '0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0', '0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'], [4, 'Edm.Binary', 'T0RhdGE=', "binary'T0RhdGE='"],
            [4, 'Saltmarsh.Registrar.Climate', 'Sealed', "Saltmarsh.Registrar.Climate'Sealed'"], [4, 'Saltmarsh.Registrar.Money', '12.5', '12.5'], [4, 'Edm.Int32', 'null', 'null'],
            [2, 'Edm.String', "O'Shee", "'O''Shee'"], [2, 'Edm.DateTime', '2030-05-01', "datetime'2030-05-01T00:00:00'"], [2, 'Edm.DateTime', '2030-05-01T09:30', "datetime'2030-05-01T09:30'"], [2, 'Edm.DateTimeOffset', '2030-05-01T09:30:00Z', "datetimeoffset'2030-05-01T09:30:00Z'"], [2, 'Edm.Time', '09:30', "time'PT9H30M'"], [2, 'Edm.Time', 'PT13H20M', "time'PT13H20M'"],
            [2, 'Edm.Guid', '0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0', "guid'0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'"], [2, 'Edm.Decimal', '1', '1M'], [2, 'Edm.Decimal', '-12.50', '-12.50M'], [2, 'Edm.Int64', '64', '64L'], [2, 'Edm.Double', '1.5E+10', '1.5E+10d'], [2, 'Edm.Single', '2.0', '2.0f'], [2, 'Edm.Binary', 'I6s=', "X'23AB'"], [2, 'Edm.Int16', '12', '12'], [2, 'Edm.Boolean', 'false', 'false'],
            [3, 'Edm.DateTime', '2030-05-01', "datetime'2030-05-01T00:00:00'"],
        ];
    }

    #[DataProvider('literals')]
    public function test_a_value_is_written_as_its_version_writes_it(int $version, string $type, string $typed, string $written): void
    {
        self::assertSame($written, (new ODataLiteral(ODataVersion::from($version), CsdlTest::registrar(4)))->write($typed, $type));
    }

    /**
     * @return iterable<array{int, string, string, string}>
     */
    public static function unfit(): iterable
    {
        yield from [
            [4, 'Edm.Date', '1.5.2030', 'a day like 2030-05-01'], [4, 'Edm.Date', '2030-13-01', 'a day'], [4, 'Edm.DateTimeOffset', 'yesterday', 'a time like'], [4, 'Edm.Boolean', 'yes', 'true or false'], [4, 'Edm.Int16', '40000', 'between -32768 and 32767'], [4, 'Edm.Int32', '1 or 1 eq 1', 'a whole number'], [4, 'Edm.Guid', '12', 'a GUID'], [4, 'Edm.Decimal', '1,5', 'a number'],
            [4, 'Saltmarsh.Registrar.Climate', 'Seeled', '"Sealed" was probably meant'], [2, 'Edm.DateTime', '2030-05-01T09:30:00+02:00', 'without an offset'], [2, 'Edm.Time', 'noon', 'PT9H30M'], [4, 'Edm.Stream', 'x', 'cannot stand in an address'],
        ];
    }

    #[DataProvider('unfit')]
    public function test_what_is_no_value_of_a_type_is_told(int $version, string $type, string $typed, string $says): void
    {
        $this->expectException(InvalidLiteral::class);
        $this->expectExceptionMessage($says);
        (new ODataLiteral(ODataVersion::from($version), CsdlTest::registrar(4)))->write($typed, $type);
    }

    public function test_expansions_nest_in_version_4_and_become_paths_before_it(): void
    {
        $choice = SetChoice::of(['select' => ['Name'], 'filter' => "Rooms gt 3 and Name ne 'R&D; #1'", 'order' => 'Name desc', 'top' => 9, 'search' => 'salt', 'expand' => ['Objects' => ['select' => ['Title'], 'filter' => 'OnLoan', 'order' => 'Title', 'top' => 5, 'expand' => ['Reports' => null]], 'Exhibitions' => null]]);
        self::assertSame(['$select' => 'Name', '$expand' => 'Objects($select=Title;$filter=OnLoan;$orderby=Title;$top=5;$expand=Reports),Exhibitions', '$filter' => "Rooms gt 3 and Name ne 'R&D; #1'", '$search' => 'salt', '$orderby' => 'Name desc', '$top' => '9'], (new QueryOptions(ODataVersion::V4))->of($choice));
        $two = new QueryOptions(ODataVersion::V2);
        self::assertSame(['$select' => 'Name,Objects/Title,Objects/Reports/*,Exhibitions/*', '$expand' => 'Objects/Reports,Exhibitions', '$filter' => "Rooms gt 3 and Name ne 'R&D; #1'", '$orderby' => 'Name desc', '$top' => '9', '$format' => 'json'], $two->of($choice));
        self::assertCount(4, $two->unsayable($choice));
        self::assertSame(['$expand' => 'Venue', '$format' => 'json'], $two->of(SetChoice::of(['expand' => ['Venue' => []]])));
        $address = new Address('/Venues', ['$filter' => "Name eq 'R&D'", '$top' => '1']);
        self::assertSame("/Venues?\$filter=Name eq 'R&D'&\$top=1", $address->readable());
        self::assertSame('/Venues?%24filter=Name%20eq%20%27R%26D%27&%24top=1', $address->encoded());
        self::assertSame(['select' => ['Name'], 'top' => 9], array_intersect_key($choice->document(), ['select' => 1, 'top' => 1]));
    }

    public function test_values_of_bodies_are_those_of_the_version(): void
    {
        self::assertSame('/Date(1904398200000)/', (new EdmValue('Edm.DateTime', ODataVersion::V2))->json('2030-05-07T15:30'));
        self::assertSame('12.50', (new EdmValue('Edm.Decimal', ODataVersion::V2))->json('12.50'));
        self::assertSame('12.50', JsonText::encode((new EdmValue('Edm.Decimal', ODataVersion::V4))->json('12.50')));
        self::assertNull((new EdmValue('Edm.String', ODataVersion::V4))->json('x'));
        self::assertSame("Saltmarsh.Grade'Worn'", (new EdmValue('Saltmarsh.Grade', ODataVersion::V4))->literal('Worn'));
    }
}
