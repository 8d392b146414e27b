<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\BoundStatement;
use DeepSpring\Sql\InvalidParameter;
use DeepSpring\Sql\Parameter;
use DeepSpring\Sql\ParameterKind;
use DeepSpring\Sql\RelativeMoment;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ParametersTest extends TestCase
{
    private const NOW = '2031-03-31 12:34:56.5';

    /**
     * @return iterable<string, array{string, Parameter, string|list<string>, string}>
     */
    public static function values(): iterable
    {
        $one = static fn (ParameterKind $kind, ?string $default = null, bool $many = false): Parameter => new Parameter('p', $kind, $default, [], $many);
        yield 'a text' => ['house = :p', $one(ParameterKind::Text), "o'brien \\ x", "house = 'o''brien \\\\ x'"];
        yield 'SQL in a text stays a text' => ['house = :p', $one(ParameterKind::Text), "'; drop table loans; --", "house = '''; drop table loans; --'"];
        yield 'a default' => ['house = :p', $one(ParameterKind::Text, 'north-quay'), '', "house = 'north-quay'"];
        yield 'a number' => ['n > :p', $one(ParameterKind::Number), ' -3.50 ', 'n > -3.50'];
        yield 'a long number' => ['n = :p', $one(ParameterKind::Number), '12345678901234567890.12', 'n = 12345678901234567890.12'];
        yield 'several' => ['house in (:p)', $one(ParameterKind::Text, null, true), ['a', '', 'b'], "house in ('a', 'b')"];
        yield 'several by default' => ['n in (:p)', $one(ParameterKind::Number, '1, 2', true), [], 'n in (1, 2)'];
        yield 'a date' => ['due >= :p', $one(ParameterKind::Date), '2031-02-28', "due >= '2031-02-28'"];
        yield 'a date in words' => ['due >= :p', $one(ParameterKind::Date, 'start of month'), '', "due >= '2031-03-01'"];
        yield 'a moment of a zone, in UTC' => ['at >= :p', $one(ParameterKind::Moment), '2031-07-01 14:30', "at >= '2031-07-01 12:30:00.000000'"];
        yield 'each time' => [':p or :p', $one(ParameterKind::Number), '1', '1 or 1'];
        yield 'in a text, a name, a comment and an assignment it is none' => ["':p' `:p` -- :p\n @a := 1, a::p, :p", $one(ParameterKind::Number), '7', "':p' `:p` -- :p\n @a := 1, a::p, 7"];
    }

    /**
     * @param  string|list<string>  $value
     */
    #[DataProvider('values')]
    public function test_a_value_stands_in_the_place_of_its_parameter(string $sql, Parameter $parameter, string|array $value, string $wanted): void
    {
        self::assertSame($wanted, $this->bound($sql, $parameter, $value)->sql);
    }

    /**
     * @return iterable<string, array{ParameterKind, string|list<string>, string}>
     */
    public static function unfit(): iterable
    {
        yield 'none' => [ParameterKind::Text, '', 'The query asks for "p", and no value is given.'];
        yield 'no number' => [ParameterKind::Number, '1; drop', '"1; drop" is no number for "p": write one like 12 or -3.5.'];
        yield 'no number either' => [ParameterKind::Number, '1e5', 'is no number'];
        yield 'a day that is not there' => [ParameterKind::Date, '2031-02-29', 'is no date'];
        yield 'an hour that is not there' => [ParameterKind::Moment, '2031-02-28 24:00', 'is no date and time'];
        yield 'words without meaning' => [ParameterKind::Moment, 'soon', 'is no date and time'];
        yield 'several where one is meant' => [ParameterKind::Text, ['a', 'b'], 'takes one value'];
        yield 'no text' => [ParameterKind::Text, "\xff", 'is no text'];
    }

    /**
     * @param  string|list<string>  $value
     */
    #[DataProvider('unfit')]
    public function test_a_value_that_does_not_fit_is_refused_by_name(ParameterKind $kind, string|array $value, string $says): void
    {
        try {
            $this->bound('x = :p', new Parameter('p', $kind), $value);
            self::fail('It was taken.');
        } catch (InvalidParameter $invalid) {
            self::assertSame('p', $invalid->name);
            self::assertStringContainsString($says, $invalid->getMessage());
        }
    }

    public function test_places_are_found_again_in_what_was_written(): void
    {
        $sql = 'select :p, borower from loans where house = :p and x';
        $bound = $this->bound($sql, new Parameter('p'), 'a long value');
        foreach (['borower', 'loans', 'and x'] as $word) {
            self::assertSame(strpos($sql, $word), $bound->written((int) strpos($bound->sql, $word)));
        }
        self::assertSame(strpos($sql, ':p'), $bound->written((int) strpos($bound->sql, 'long')));
        self::assertSame(['p'], BoundStatement::names($sql));
    }

    /**
     * @return iterable<string, array{string, string|null}> words, and the moment in Oslo
     */
    public static function words(): iterable
    {
        yield 'now' => ['now', '2031-03-31 14:34:56'];
        yield 'today' => ['Today', '2031-03-31 00:00:00'];
        yield 'yesterday' => ['yesterday', '2031-03-30 00:00:00'];
        yield 'over a changed clock, hours are hours' => ['48 hours ago', '2031-03-29 13:34:56'];
        yield 'over a changed clock, days are days' => ['2 days ago', '2031-03-29 14:34:56'];
        yield 'a month back from the 31st' => ['1 month ago', '2031-02-28 14:34:56'];
        yield 'a year back' => ['1 year ago', '2030-03-31 14:34:56'];
        yield 'a quarter back' => ['1 quarter ago', '2030-12-31 14:34:56'];
        yield 'start of week' => ['start of week', '2031-03-31 00:00:00'];
        yield 'start of the month before' => ['start of month, 1 month ago', '2031-02-01 00:00:00'];
        yield 'start of quarter' => ['start of quarter', '2031-01-01 00:00:00'];
        yield 'the same day last year' => ['today, 1 year ago', '2030-03-31 00:00:00'];
        yield 'start of hour' => ['start of hour', '2031-03-31 14:00:00'];
        yield 'to come' => ['tomorrow, 12 hours from now', '2031-04-01 12:00:00'];
        yield 'nothing' => ['soon', null];
        yield 'half of it' => ['today, later', null];
        yield 'empty' => ['', null];
    }

    #[DataProvider('words')]
    public function test_words_mean_a_moment_in_a_zone(string $words, ?string $wanted): void
    {
        $found = RelativeMoment::of($words, new \DateTimeImmutable(self::NOW, new \DateTimeZone('UTC')), new \DateTimeZone('Europe/Oslo'));
        self::assertSame($wanted, $found?->format('Y-m-d H:i:s'));
    }

    public function test_what_is_offered_means_something(): void
    {
        foreach (RelativeMoment::OFFERED as $words) {
            self::assertNotNull(RelativeMoment::of($words, new \DateTimeImmutable(self::NOW), new \DateTimeZone('UTC')), $words);
        }
    }

    /**
     * @param  string|list<string>  $value
     */
    private function bound(string $sql, Parameter $parameter, string|array $value): BoundStatement
    {
        return BoundStatement::of($sql, ['p' => $parameter], ['p' => $value], new \DateTimeImmutable(self::NOW, new \DateTimeZone('UTC')), new \DateTimeZone('Europe/Oslo'));
    }
}
