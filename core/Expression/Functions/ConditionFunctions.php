<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use DeepSpring\Expression\ValueKind;

final class ConditionFunctions
{
    /**
     * @return list<Definition>
     */
    public static function all(): array
    {
        $group = 'Conditions';

        return [
            new Definition($group, 'if(condition, then, otherwise)', [ValueKind::Boolean, ValueKind::Any, ValueKind::Any], null, 'One of two values. Only the one that is needed is computed.', ["if(3 > 2, 'more', 'less')", 'more'],
                static fn (array $row, array $values): mixed => $values[0]($row) === true ? $values[1]($row) : (isset($values[2]) ? $values[2]($row) : null), least: 2, isLazy: true, givesFrom: 1),
            new Definition($group, 'coalesce(value, …)', [ValueKind::Any], null, 'The first value that is not empty.', ["coalesce(null, 'second')", 'second'],
                static function (array $row, array $values): mixed {
                    foreach ($values as $value) {
                        $one = $value($row);
                        if ($one !== null) {
                            return $one;
                        }
                    }

                    return null;
                }, repeats: true, isLazy: true),
            new Definition($group, 'empty(value)', [ValueKind::Any], ValueKind::Boolean, 'Whether there is nothing: no value, a text without a letter, a list without an item.', ["empty(' ')", 'true'],
                static fn (mixed $value): bool => $value === null || is_string($value) && trim($value) === '' || $value === [] || $value instanceof \stdClass && get_object_vars($value) === [], takesEmpty: true),
            new Definition($group, 'null_if(value, this)', [ValueKind::Any, ValueKind::Any], null, 'Nothing where the value is this one, like "n/a".', ["null_if('n/a', 'n/a')", ''],
                static fn (mixed $value, mixed $this_): mixed => \DeepSpring\Expression\Node\ComparisonNode::same($value, $this_) ? null : $value, takesEmpty: true),
        ];
    }
}
