<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What is known of one secret never goes where another belongs.
 */
final class SecretNamesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, array<string, string|null>}> a command, and place → value; null where somebody has to give it
     */
    public static function commands(): iterable
    {
        $address = 'https://desk.saltmarsh.example/loans';
        yield 'a placeholder before a value' => ["curl -H 'X-Api-Key: \$HOME' '$address?key=k-1'", ['header X-Api-Key' => null, 'query key' => 'k-1']];
        yield 'a value before a placeholder' => ["curl -H 'X-Api-Key: k-1' '$address?key=<yours>'", ['header X-Api-Key' => 'k-1', 'query key' => null]];
        yield 'two values' => ["curl -H 'X-Api-Key: k-1' '$address?key=k-2'", ['header X-Api-Key' => 'k-1', 'query key' => 'k-2']];
        yield 'one value twice' => ["curl -H 'X-Api-Key: k-1' '$address?key=k-1'", ['header X-Api-Key' => 'k-1', 'query key' => 'k-1']];
        yield 'two placeholders' => ["curl -H 'X-Api-Key: \$A' '$address?key=\$B'", ['header X-Api-Key' => null, 'query key' => null]];
        yield 'a placeholder and then its value' => ["curl -H 'X-Api-Key: \$A' '$address'\ncurl -H 'X-Api-Key: k-1' '$address/7'", ['header X-Api-Key' => 'k-1']];
        yield 'a value and then a placeholder for it' => ["curl -H 'X-Api-Key: k-1' '$address'\ncurl -H 'X-Api-Key: YOUR_KEY' '$address/7'", ['header X-Api-Key' => 'k-1']];
        yield 'two headers and a cookie' => ["curl -H 'X-Api-Key: \$A' -H 'X-Auth: a-1' -H 'Cookie: session=s-1; token=<yours>' '$address'", ['header X-Api-Key' => null, 'header X-Auth' => 'a-1', 'cookie session' => 's-1', 'cookie token' => null]];
    }

    /**
     * @param  array<string, string|null>  $expected
     */
    #[DataProvider('commands')]
    public function test_each_place_gets_its_own(string $commands, array $expected): void
    {
        $found = Importers::read(new ImportInput($commands))->only(null);
        $names = [];
        foreach ($found->access as $one) {
            $names["{$one['in']} {$one['name']}"] = $one['value']['secret'];
        }
        self::assertEqualsCanonicalizing(array_keys($expected), array_keys($names));
        foreach ($expected as $place => $value) {
            self::assertSame($value, $found->secrets[$names[$place]] ?? null, $place);
        }
        // No two places share a name unless they share the value.
        foreach (array_count_values($names) as $name => $times) {
            self::assertTrue($times === 1 || isset($found->secrets[$name]), "$name stands in $times places and nobody knows it.");
        }
        self::assertSame([], array_diff(array_keys($found->secrets), $names), 'Every secret that is known goes somewhere.');
    }
}
