<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use Brick\Math\BigDecimal;
use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Node\ComparisonNode;
use DeepSpring\Expression\Node\LiteralNode;
use DeepSpring\Expression\Texts;
use DeepSpring\Expression\ValueKind;

final class ListFunctions
{
    /**
     * In one piece, since it is a table.
     *
     * @return list<Definition>
     */
    public static function all(): array
    {
        $group = 'Lists';

        return [
            new Definition($group, 'lookup(value, list, list, otherwise)', [ValueKind::Any, ValueKind::List, ValueKind::List, ValueKind::Any], ValueKind::Any, 'The item of the second list that stands where the value stands in the first.', ["lookup('b', ['a', 'b'], ['open', 'closed'])", 'closed'],
                static function (mixed $value, array $from, array $to, mixed $otherwise = null): mixed {
                    foreach ($from as $place => $item) {
                        if (ComparisonNode::same($value, $item)) {
                            return $to[$place] ?? null;
                        }
                    }

                    return $otherwise;
                }, least: 3, takesEmpty: true),
            new Definition($group, 'count(list)', [ValueKind::Any], ValueKind::Number, 'How many items.', ["count(['a', 'b'])", '2'], static fn (mixed $list): int => is_array($list) ? count($list) : ($list instanceof \stdClass ? count(get_object_vars($list)) : 1)),
            new Definition($group, 'item(list, number)', [ValueKind::Any, ValueKind::Number], ValueKind::Any, 'One item, from 1; from the end with -1.', ["item(['a', 'b'], -1)", 'b'], static function (mixed $list, mixed $number): mixed {
                $place = ExactNumbers::count($number);
                $list = self::items($list);

                return $place === 0 ? null : ($place > 0 ? $list[$place - 1] ?? null : $list[count($list) + $place] ?? null);
            }),
            new Definition($group, 'join(list, with)', [ValueKind::Any, ValueKind::Text], ValueKind::Text, 'All items as one text.', ["join(['a', 'b'], ', ')", 'a, b'], static fn (mixed $list, string $with): string => Texts::bounded(implode($with, array_map(Texts::of(...), self::items($list))))),
            new Definition($group, 'sum(list)', [ValueKind::Any], ValueKind::Number, 'All its numbers together.', ['sum([1, 2.5])', '3.5'], static function (mixed $list): int|BigDecimal {
                $sum = 0;
                foreach (self::items($list) as $one) {
                    $sum = $one === null ? $sum : ExactNumbers::calculate('+', $sum, ExactNumbers::of($one));
                }

                return $sum;
            }),
            new Definition($group, 'json(value, path)', [ValueKind::Any, ValueKind::Text], ValueKind::Any, 'What a JSONPath (RFC 9535) finds first in JSON, or in a text that holds JSON.', ["json('{\"a\":{\"b\":5}}', '\$.a.b')", '5'], static function (mixed $value, string $path): mixed {
                $document = is_string($value) ? json_decode($value, false, 512, JSON_BIGINT_AS_STRING) : $value;
                try {
                    return JsonPath::parse($path)->values($document)[0] ?? null;
                } catch (InvalidJsonPath|TooCostly $invalid) {
                    throw CannotEvaluate::because($invalid->getMessage());
                }
            }, check: static function (array $nodes): void {
                if ($nodes[1] instanceof LiteralNode && is_string($nodes[1]->value)) {
                    try {
                        JsonPath::parse($nodes[1]->value);
                    } catch (InvalidJsonPath $invalid) {
                        throw InvalidExpression::at($nodes[1]->position(), $invalid->getMessage());
                    }
                }
            }),
            new Definition($group, 'pick(list, name, is, give)', [ValueKind::Any, ValueKind::Text, ValueKind::Any, ValueKind::Text], ValueKind::Any, 'Of the first object in a list whose member is that, another member: how a list of names and values becomes a column.', ["pick(json('[{\"n\":\"colour\",\"v\":\"red\"}]', '\$'), 'n', 'colour', 'v')", 'red'], static function (mixed $list, string $name, mixed $is, string $give): mixed {
                foreach (self::items($list) as $one) {
                    if ($one instanceof \stdClass && ComparisonNode::same($one->{$name} ?? null, $is)) {
                        return $one->{$give} ?? null;
                    }
                }

                return null;
            }),
        ];
    }

    /**
     * @return list<mixed>
     */
    private static function items(mixed $list): array
    {
        return is_array($list) ? array_values($list) : ($list instanceof \stdClass ? array_values(get_object_vars($list)) : [$list]);
    }
}
