<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\DeltaEntry;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DeltaEntryTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>, bool, bool, array<string, string>|null}> entry, key, whether it is gone, whether it is of no matter, the key's values
     */
    public static function entries(): iterable
    {
        yield 'changed' => ['{"Number":"0004.02","Title":"x"}', ['Number'], false, false, ['Number' => '0004.02']];
        yield 'a number and a truth as key' => ['{"ID":9007199254740993,"Open":false}', ['ID', 'Open'], false, false, ['ID' => '9007199254740993', 'Open' => 'false']];
        yield 'gone, 4.01' => ['{"@removed":{"reason":"deleted"},"@id":"http://x/v4/Reports(ObjectNumber=\'0004.02\',Line=3)"}', ['ObjectNumber', 'Line'], true, false, ['ObjectNumber' => '0004.02', 'Line' => '3']];
        yield 'gone, with its key as members' => ['{"@removed":{"reason":"changed"},"Number":"7"}', ['Number'], true, false, ['Number' => '7']];
        yield 'gone, 4.0' => ['{"@odata.context":"$metadata#Objects/$deletedEntity","id":"Objects(\'O\'\'Shee%2F1\')","reason":"deleted"}', ['Number'], true, false, ['Number' => "O'Shee/1"]];
        yield 'an id that names no key' => ['{"@removed":{},"@id":"Objects/first"}', ['Number'], true, false, null];
        yield 'an id with another key' => ['{"@removed":{},"@id":"Objects(Serial=1)"}', ['Number'], true, false, null];
        yield 'a link' => ['{"@odata.context":"#Objects/$link","source":"a","relationship":"Venue","target":"b"}', ['Number'], false, true, null];
        yield 'a link that is gone' => ['{"@odata.context":"#Objects/$deletedLink","source":"a","relationship":"Venue","target":"b"}', ['Number'], false, true, null];
    }

    /**
     * @param  non-empty-list<string>  $names
     * @param  array<string, string>|null  $key
     */
    #[DataProvider('entries')]
    public function test_an_entry_says_what_it_is_of_and_what_became_of_it(string $json, array $names, bool $isRemoved, bool $isOfNoMatter, ?array $key): void
    {
        $entry = DeltaEntry::of(json_decode($json, false, 512, JSON_BIGINT_AS_STRING | JSON_THROW_ON_ERROR));
        self::assertSame([$isRemoved, $isOfNoMatter, $key], [$entry->isRemoved, $entry->isOfNoMatter(), $entry->key($names)]);
    }

    public function test_an_entry_that_has_only_what_changed_is_not_whole(): void
    {
        $entry = DeltaEntry::of((object) ['Number' => '1', 'Title' => null]);
        self::assertTrue($entry->isWhole(['Number', 'Title']));
        self::assertFalse($entry->isWhole(['Number', 'Value']));
    }
}
