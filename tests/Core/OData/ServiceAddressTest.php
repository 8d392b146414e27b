<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\ServiceAddress;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ServiceAddressTest extends TestCase
{
    /**
     * @return iterable<array{string, string, int|null, array<string, mixed>}>
     */
    public static function addresses(): iterable
    {
        $root = 'https://registrar.saltmarsh.example/odata/v4';
        yield from [
            ["$root/\$metadata", $root, null, []],
            ["$root/\$metadata?x=1", $root, null, []],
            ["$root/Venues?\$top=5", $root, null, ['entity_set' => 'Venues', 'top' => 5]],
            ["$root/Venues?%24select=Name,Rooms&%24orderby=Name%20desc&%24count=true", $root, 4, ['entity_set' => 'Venues', 'select' => ['Name', 'Rooms'], 'order' => 'Name desc']],
            ["$root/Venues?\$expand=Objects(\$select=Title;\$filter=Title eq 'a,b;(c';\$expand=Reports),Exhibitions&\$search=salt", $root, 4, ['entity_set' => 'Venues', 'search' => 'salt', 'expand' => ['Objects' => ['select' => ['Title'], 'filter' => "Title eq 'a,b;(c'", 'expand' => ['Reports' => []]], 'Exhibitions' => []]]],
            ["$root/Objects?\$inlinecount=allpages&\$format=json&\$expand=Venue,Reports/Courier&\$select=Title,Venue/Name", $root, 2, ['entity_set' => 'Objects', 'select' => ['Title'], 'expand' => ['Venue' => ['select' => ['Name']], 'Reports' => ['expand' => ['Courier' => []]]]]],
            ["$root/Objects?\$filter=Acquired+ge+datetime'2030-01-01T00:00:00'", $root, 2, ['entity_set' => 'Objects', 'filter' => "Acquired ge datetime'2030-01-01T00:00:00'"]],
            ["$root/Objects('0412.02')", $root, null, ['entity_set' => 'Objects']],
            ["$root/Venues('north-quay')/Objects?\$top=1", $root, null, ['entity_set' => 'Venues', 'top' => 1]],
            ["$root/Objects/\$count?\$filter=OnLoan", $root, null, ['entity_set' => 'Objects', 'filter' => 'OnLoan']],
        ];
    }

    /**
     * @param  array<string, mixed>  $choice
     */
    #[DataProvider('addresses')]
    public function test_a_copied_address_says_where_the_service_is_and_what_was_chosen(string $address, string $root, ?int $version, array $choice): void
    {
        $found = ServiceAddress::of(str_replace(' ', '%20', $address));
        self::assertSame([$root, $version], [$found?->root, $found?->version?->value]);
        self::assertEquals($choice, $found?->choice);
    }

    public function test_what_does_not_speak_odata_is_left_to_others(): void
    {
        foreach (['', 'loans', 'https://loans.saltmarsh.example/v2', 'https://loans.saltmarsh.example/v2/loans?status=open', 'https://loans.saltmarsh.example?$top=1', 'curl https://x/$metadata', "https://x/Venues('a b')", 'ftp://x/$metadata'] as $address) {
            self::assertNull(ServiceAddress::of($address), $address);
        }
        self::assertSame(['$skiptoken', 'key'], ServiceAddress::of('https://x.example/o/Venues?$top=1&$skiptoken=7&key=1')?->leftOut);
    }
}
