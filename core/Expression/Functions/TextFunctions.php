<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use DeepSpring\Answer\JsonPath\IRegexp;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Node\LiteralNode;
use DeepSpring\Expression\Texts;
use DeepSpring\Expression\ValueKind;

final class TextFunctions
{
    /**
     * @return list<Definition>
     */
    public static function all(): array
    {
        $group = 'Text';
        $t = ValueKind::Text;
        $n = ValueKind::Number;

        return [
            new Definition($group, 'concat(text, …)', [$t], $t, 'All in a row; what is empty adds nothing.', ["concat('NQ', '-', 12)", 'NQ-12'], static fn (?string ...$texts): string => Texts::bounded(implode('', $texts)), repeats: true, takesEmpty: true),
            new Definition($group, 'upper(text)', [$t], $t, 'In capitals.', ["upper('quay')", 'QUAY'], static fn (string $text): string => mb_strtoupper($text, 'UTF-8')),
            new Definition($group, 'lower(text)', [$t], $t, 'In small letters.', ["lower('QUAY')", 'quay'], static fn (string $text): string => mb_strtolower($text, 'UTF-8')),
            new Definition($group, 'trim(text)', [$t], $t, 'Without blanks at either end.', ["trim('  quay ')", 'quay'], static fn (string $text): string => (string) preg_replace('/^[\s\p{Z}]+|[\s\p{Z}]+$/u', '', $text)),
            new Definition($group, 'length(text)', [$t], $n, 'How many characters.', ["length('Ødegård')", '7'], static fn (string $text): int => mb_strlen($text, 'UTF-8')),
            new Definition($group, 'left(text, count)', [$t, $n], $t, 'The first characters.', ["left('NQ-0012', 2)", 'NQ'], static fn (string $text, mixed $count): string => mb_substr($text, 0, max(0, ExactNumbers::count($count)), 'UTF-8')),
            new Definition($group, 'right(text, count)', [$t, $n], $t, 'The last characters.', ["right('NQ-0012', 4)", '0012'], static fn (string $text, mixed $count): string => ExactNumbers::count($count) <= 0 ? '' : mb_substr($text, -ExactNumbers::count($count), null, 'UTF-8')),
            new Definition($group, 'mid(text, from, count)', [$t, $n, $n], $t, 'Characters from a place on, which counts from 1.', ["mid('NQ-0012', 4, 2)", '00'], static fn (string $text, mixed $from, mixed $count = null): string => mb_substr($text, max(0, ExactNumbers::count($from) - 1), $count === null ? null : max(0, ExactNumbers::count($count)), 'UTF-8'), least: 2),
            new Definition($group, 'replace(text, this, with)', [$t, $t, $t], $t, 'Every place where a text occurs, changed.', ["replace('a-b-c', '-', '/')", 'a/b/c'], static fn (string $text, string $this_, string $with): string => $this_ === '' ? $text : Texts::bounded(self::replace($text, $this_, $with))),
            new Definition($group, 'contains(text, part)', [$t, $t], ValueKind::Boolean, 'Whether a text occurs in it.', ["contains('North Quay', 'Quay')", 'true'], static fn (string $text, string $part): bool => str_contains($text, $part)),
            new Definition($group, 'starts(text, part)', [$t, $t], ValueKind::Boolean, 'Whether it begins with a text.', ["starts('NQ-12', 'NQ')", 'true'], static fn (string $text, string $part): bool => str_starts_with($text, $part)),
            new Definition($group, 'ends(text, part)', [$t, $t], ValueKind::Boolean, 'Whether it ends with a text.', ["ends('crate.jpg', '.jpg')", 'true'], static fn (string $text, string $part): bool => str_ends_with($text, $part)),
            new Definition($group, 'before(text, part)', [$t, $t], $t, 'What stands before the first place of a text; all of it where there is none.', ["before('ines@saltmarsh.example', '@')", 'ines'], static fn (string $text, string $part): string => $part !== '' && str_contains($text, $part) ? (string) strstr($text, $part, true) : $text),
            new Definition($group, 'after(text, part)', [$t, $t], $t, 'What stands after the first place of a text; nothing where there is none.', ["after('NQ-12', '-')", '12'], static fn (string $text, string $part): string => $part !== '' && str_contains($text, $part) ? substr((string) strstr($text, $part), strlen($part)) : ''),
            new Definition($group, 'part(text, separator, number)', [$t, $t, $n], $t, 'One of the parts between separators, from 1; from the end with -1.', ["part('a/b/c', '/', 2)", 'b'], static function (string $text, string $separator, mixed $number): ?string {
                $parts = $separator === '' ? [$text] : explode($separator, $text);
                $place = ExactNumbers::count($number);

                return $place === 0 ? null : ($place > 0 ? $parts[$place - 1] ?? null : $parts[count($parts) + $place] ?? null);
            }),
            new Definition($group, 'pad_left(text, count, with)', [$t, $n, $t], $t, 'Made as long as that, with characters before it.', ["pad_left(12, 5, '0')", '00012'], static function (string $text, mixed $count, string $with): string {
                $missing = min(10_000, ExactNumbers::count($count)) - mb_strlen($text, 'UTF-8');

                return $missing > 0 && $with !== '' ? mb_substr(str_repeat($with, $missing), 0, $missing, 'UTF-8').$text : $text;
            }),
            new Definition($group, 'matches(text, pattern)', [$t, $t], ValueKind::Boolean, 'Whether all of it has the form of a regular expression (RFC 9485).', ["matches('NQ-12', '[A-Z]{2}-[0-9]+')", 'true'],
                self::matches(...),
                check: static function (array $nodes): void {
                    $pattern = $nodes[1];
                    if ($pattern instanceof LiteralNode && is_string($pattern->value) && self::pattern($pattern->value) === null) {
                        throw InvalidExpression::at($pattern->position(), 'this is no regular expression of RFC 9485: letters, [a-z], ., (a|b), *, +, ? and {2,4}, without anchors and \d.');
                    }
                }),
            new Definition($group, 'fingerprint(value, …)', [ValueKind::Any], $t, 'A text that is the same for the same values and, as good as surely, no others: a key where there is none.', ["length(fingerprint('a', null, 1))", '32'], static fn (mixed ...$values): string => substr(hash('sha256', implode("\0", array_map(static fn (mixed $value): string => $value === null ? '-' : '='.Texts::of($value), $values))), 0, 32), repeats: true, takesEmpty: true),
            new Definition($group, 'text(value)', [ValueKind::Any], $t, 'A number, a day or a structure as text.', ['text(12.50)', '12.5'], static fn (mixed $value): string => Texts::of($value)),
        ];
    }

    private static function replace(string $text, string $this_, string $with): string
    {
        if (strlen($text) + substr_count($text, $this_) * (strlen($with) - strlen($this_)) > Texts::LONGEST) {
            throw CannotEvaluate::because('a text of more than 1 MB');
        }

        return str_replace($this_, $with, $text);
    }

    private static function matches(string $text, string $pattern): bool
    {
        try {
            return (self::pattern($pattern) ?? throw CannotEvaluate::because('the pattern is no regular expression'))->matches($text, true);
        } catch (TooCostly $costly) {
            throw CannotEvaluate::because($costly->getMessage());
        }
    }

    private static function pattern(string $pattern): ?IRegexp
    {
        return IRegexp::compile($pattern);
    }
}
