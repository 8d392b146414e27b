<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Value\SafeNames;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SafeNamesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function names(): iterable
    {
        $table = ['loan_id' => 'loan_id', 'postCode' => 'post_code', 'HTTPStatus' => 'http_status', 'Post Code' => 'post_code', 'order' => 'order_', 'SELECT' => 'select_', 'straße' => 'strasse', 'due.date' => 'due_date', '$ref' => 'ref', '2nd' => '_2nd', '__a__b__' => 'a_b', '`drop`' => 'drop_', 'a`b;--' => 'a_b', 'é' => 'e', 'rows' => 'rows_', '@type' => 'type'];
        foreach ($table as $name => $safe) {
            yield (string) $name => [(string) $name, $safe];
        }
    }

    #[DataProvider('names')]
    public function test_a_name_is_made_safe(string $name, string $safe): void
    {
        self::assertSame($safe, SafeNames::clean($name));
        self::assertTrue(SafeNames::isSafe($safe), 'a safe name stays as it is');
    }

    public function test_a_name_of_nothing_usable_gets_a_stable_one(): void
    {
        self::assertMatchesRegularExpression('/^unnamed_[0-9a-f]{6}$/', SafeNames::clean('☺'));
        self::assertSame(SafeNames::clean('☺'), SafeNames::clean('☺'));
        self::assertNotSame(SafeNames::clean('☺'), SafeNames::clean('☹'));
    }

    public function test_long_names_are_cut_and_stay_apart(): void
    {
        [$a, $b] = SafeNames::all([str_repeat('long_', 20).'a', str_repeat('long_', 20).'b']);
        self::assertSame(64, strlen($a));
        self::assertStringStartsWith(str_repeat('long_', 11), $a);
        self::assertNotSame($a, $b);
    }

    public function test_no_two_of_a_list_are_alike(): void
    {
        $names = SafeNames::all([...array_fill(0, 120, 'Name'), 'name_2', 'NAME', str_repeat('x', 64), str_repeat('X', 64)]);
        self::assertSame(array_unique($names), $names);
        self::assertLessThanOrEqual(64, max(array_map(strlen(...), $names)));
    }
}
