<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\DocumentValidator;
use DeepSpring\SourceFile\QuickSchema;
use DeepSpring\SourceFile\SourceSchema;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Yaml\Yaml;

/**
 * What is said to be right for sure is right for the validator of the whole language, whatever the value.
 */
final class QuickSchemaTest extends TestCase
{
    /**
     * @return iterable<string, array{mixed, list<mixed>, list<mixed>}> a schema, values that are right for sure, and values that are not
     */
    public static function keywords(): iterable
    {
        yield 'a type' => [['type' => 'string'], ['', 'a'], [1, 1.5, true, null, [], ['a' => 1]]];
        yield 'one of several types' => [['type' => ['integer', 'null']], [1, null], ['1', 1.5, false]];
        yield 'a float that is whole' => [['type' => 'integer'], [2], [2.0]];
        yield 'numbers' => [['type' => 'number', 'minimum' => 1, 'maximum' => 3], [1, 3, 2.5], [0, 3.1, '2']];
        yield 'lengths in characters, not bytes' => [['minLength' => 2, 'maxLength' => 3], ['éé', 'ééé', 'abc', 17], ['é', 'éééé', 'a', '']];
        yield 'a pattern' => [['pattern' => '^\pL+$'], ['Möwe', 'gull'], ['a1', '']];
        yield 'text that is not UTF-8' => [['type' => 'string'], ['ok'], ["\xFF"]];
        yield 'enum and const' => [['enum' => ['a', 1, true]], ['a', 1, true], ['1', 'true', 1.0, 'b']];
        yield 'a const of nothing' => [['const' => null], [null], [0, '', false]];
        yield 'items' => [['type' => 'array', 'items' => ['type' => 'integer'], 'minItems' => 1, 'maxItems' => 2], [[1], [1, 2]], [[], [1, 2, 3], ['1']]];
        yield 'a list that is long' => [['items' => ['type' => 'integer']], [range(1, 40)], [[...range(1, 40), 'x'], ['x', ...range(1, 40)]]];
        yield 'members' => [['type' => 'object', 'required' => ['a'], 'properties' => ['a' => ['type' => 'integer']], 'additionalProperties' => false], [['a' => 1], (object) ['a' => 1]], [['b' => 1], ['a' => 1, 'b' => 2], ['a' => 'x'], [], new \stdClass]];
        yield 'others of one kind' => [['properties' => ['a' => true], 'additionalProperties' => ['type' => 'string'], 'minProperties' => 1, 'maxProperties' => 2], [['a' => 1, 'b' => 'x']], [['b' => 1], ['a' => 1, 'b' => 'x', 'c' => 'y'], new \stdClass]];
        yield 'names of members' => [['propertyNames' => ['pattern' => '^[a-z]+$']], [['ab' => 1], new \stdClass], [['A' => 1], ['1' => 1, 'a' => 2]]];
        yield 'all of them' => [['allOf' => [['minLength' => 2], ['maxLength' => 3]]], ['ab'], ['a', 'abcd']];
        yield 'any of them' => [['anyOf' => [['type' => 'integer'], ['minLength' => 2]]], [1, 'ab'], ['a']];
        yield 'one of them' => [['oneOf' => [['type' => 'string'], ['enum' => ['x', 1]]]], ['y', 1], ['x', 2]];
        yield 'not' => [['not' => ['type' => 'string']], [1, null], ['x']];
        yield 'if, then and else' => [['if' => ['required' => ['a']], 'then' => ['required' => ['b']], 'else' => ['required' => ['c']]], [['a' => 1, 'b' => 1], ['c' => 1]], [['a' => 1, 'c' => 1], ['b' => 1]]];
        yield 'a reference, with more beside it' => [['$ref' => '#/$defs/name', 'maxLength' => 3, '$defs' => ['name' => ['type' => 'string', 'minLength' => 2]]], ['ab', 'abc'], ['a', 'abcd', 1]];
        yield 'nothing is right' => [['properties' => ['a' => false]], [['b' => 1]], [['a' => 1]]];
        yield 'a keyword that is not known' => [['properties' => ['a' => ['multipleOf' => 2]]], [], [['a' => 2], ['a' => 1], ['b' => 1]]];
        yield 'a reference that leads nowhere' => [['properties' => ['a' => ['$ref' => '#/$defs/gone']]], [['b' => 1]], [['a' => 1]]];
    }

    /**
     * @param  list<mixed>  $right
     * @param  list<mixed>  $not
     */
    #[DataProvider('keywords')]
    public function test_it_is_as_sure_as_it_can_be(mixed $schema, array $right, array $not): void
    {
        $quick = QuickSchema::of((string) json_encode($schema));
        foreach ([1, 2] as $round) {
            foreach ($right as $value) {
                self::assertTrue($quick->isSure($value), "$round: ".json_encode($value));
                self::assertTrue(self::isRight((string) json_encode($schema), $value), 'the validator agrees: '.json_encode($value));
            }
            foreach ($not as $value) {
                self::assertFalse($quick->isSure($value), "$round: ".json_encode($value));
            }
        }
    }

    public function test_no_changed_source_file_is_called_right_that_the_validator_refuses(): void
    {
        $quick = QuickSchema::of(SourceSchema::json());
        $random = new Randomizer(new Mt19937(7));
        $sure = 0;
        $wrong = 0;
        foreach (self::files() as $file) {
            $document = Yaml::parse($file, Yaml::PARSE_OBJECT_FOR_MAP);
            self::assertInstanceOf(\stdClass::class, $document);
            foreach ($document->endpoints ?? [] as $endpoint) {
                for ($round = 0; $round < 40; $round++) {
                    $changed = json_decode((string) json_encode($endpoint));
                    for ($times = $round === 0 ? 0 : $random->getInt(1, 3); $times > 0; $times--) {
                        $changed = self::changed($changed, $random);
                    }
                    $isSure = $quick->isSure($changed, '#/$defs/endpoint') && $quick->isSure(json_decode((string) json_encode($changed), true), '#/$defs/endpoint');
                    $isRight = self::isRight(SourceSchema::json(), (object) ['deepspring' => 1, 'source' => (object) ['slug' => 'x', 'name' => 'x', 'environments' => (object) ['x' => (object) ['base' => 'http://x.example']]], 'endpoints' => [$changed]]);
                    self::assertTrue(! $isSure || $isRight, (string) json_encode($changed));
                    // Where nothing was changed it is sure, or it would be of no use.
                    self::assertTrue($round > 0 || $isSure, (string) json_encode($changed));
                    $sure += $isSure ? 1 : 0;
                    $wrong += $isRight ? 0 : 1;
                }
            }
        }
        self::assertGreaterThan(50, $sure);
        self::assertGreaterThan(200, $wrong, 'the changes break some');
    }

    public function test_faults_are_told_at_the_numbers_that_the_endpoints_have(): void
    {
        $good = static fn (int $number): array => ['slug' => "e$number", 'name' => 'E', 'ask' => ['path' => '/e']];
        $document = ['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['x' => ['base' => 'http://x.example']]], 'endpoints' => [$good(0), ['name' => 'no slug'] + $good(1), ['colour' => 'red'] + $good(2), 'text', $good(4)]];
        unset($document['endpoints'][1]['slug']);
        $faults = array_map(strval(...), (new DocumentValidator)->faults($document));
        self::assertSame(['endpoints[1]', 'endpoints[2]', 'endpoints[3]'], array_map(static fn (string $fault): string => (string) strstr($fault.':', ':', true), $faults), implode("\n", $faults));
        foreach ([null, 'text', 5, ['a' => $good(0)], []] as $endpoints) {
            $faults = (new DocumentValidator)->faults(['endpoints' => $endpoints] + $document);
            self::assertSame(in_array($endpoints, [[]], true) ? 0 : 1, count($faults), (string) json_encode($endpoints));
        }
    }

    private static function isRight(string $schema, mixed $value): bool
    {
        return (new Validator)->validate(json_decode((string) json_encode($value)), $schema)->isValid();
    }

    /**
     * @return iterable<string>
     */
    private static function files(): iterable
    {
        foreach ((array) glob(__DIR__.'/../../../database/demo/*.yaml') as $file) {
            $text = (string) file_get_contents((string) $file);
            if (str_contains($text, 'deepspring:')) {
                yield $text;
            }
        }
    }

    /**
     * Somewhere in it a value is another, a member is gone, or there is one more.
     */
    private static function changed(mixed $value, Randomizer $random): mixed
    {
        $others = [null, '', 'x', str_repeat('é', 5000), "a\nb", 0, -1, 31, 2.5, 3.0, true, [], new \stdClass, (object) ['a' => 1], ['$'], '$.a[*]', 'GET', 'text'];
        $isInside = ($value instanceof \stdClass || is_array($value)) && (array) $value !== [] && $random->getInt(0, 5) > 0;
        if (! $isInside) {
            return $others[$random->getInt(0, count($others) - 1)];
        }
        $members = (array) $value;
        $name = array_keys($members)[$random->getInt(0, count($members) - 1)];
        match ($random->getInt(0, 6)) {
            0 => $members = array_diff_key($members, [$name => 1]),
            1 => $members['colour'] = 'red',
            default => $members[$name] = self::changed($members[$name], $random),
        };

        return is_array($value) ? array_values($members) : (object) $members;
    }
}
