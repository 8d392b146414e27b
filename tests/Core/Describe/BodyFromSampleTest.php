<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\BodyFromSample;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BodyFromSampleTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string|null}> a value as JSON, and the type of its input; null where it is text, which goes unsaid
     */
    public static function values(): iterable
    {
        yield 'a whole number' => ['12', 'integer'];
        yield 'a long whole number' => ['12345678901234567890', 'integer'];
        yield 'a negative one' => ['-3', 'integer'];
        yield 'a fraction' => ['1.50', 'number'];
        yield 'an exponent' => ['1e3', 'number'];
        yield 'true' => ['true', 'boolean'];
        yield 'a day' => ['"2031-03-02"', 'date'];
        yield 'a day that is not there' => ['"2031-02-30"', null];
        yield 'a leap day' => ['"2032-02-29"', 'date'];
        yield 'no leap day' => ['"2031-02-29"', null];
        yield 'a day with something behind' => ['"2031-03-02 "', null];
        yield 'a moment' => ['"2031-03-02T10:00:00Z"', 'datetime'];
        yield 'a moment with an offset and a fraction' => ['"2031-03-02T10:00:00.25+01:00"', 'datetime'];
        yield 'an hour that is not there' => ['"2031-03-02T24:00:00Z"', null];
        yield 'a moment of a day that is not there' => ['"2031-13-02T10:00:00Z"', null];
        yield 'text' => ['"gull"', null];
    }

    #[DataProvider('values')]
    public function test_a_value_gives_its_input_a_type(string $json, ?string $type): void
    {
        [$body, $inputs] = (new BodyFromSample)->of("{\"due\": $json}", 'application/json');
        self::assertEquals(['as' => 'json', 'of' => (object) ['due' => (object) ['input' => 'due']]], $body);
        self::assertSame([$type], [$inputs[0]['type'] ?? null]);
    }
}
