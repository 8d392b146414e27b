<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Texts of a statement that are written like a date and are none: what is compared with them matches nothing.
 */
final class ImpossibleDates
{
    /**
     * @return list<string> a sentence for each
     */
    public static function in(string $sql): array
    {
        $found = [];
        foreach (Lexer::read($sql) as $token) {
            if ($token->kind === TokenKind::Text && preg_match('/^(\d{4})-(\d\d?)-(\d\d?)(?:[ T]|$)/', (string) $token->value(), $part) === 1) {
                [$year, $month, $day] = [(int) $part[1], (int) $part[2], (int) $part[3]];
                if ($month < 1 || $month > 12) {
                    $found[] = "$token->text is no date: there is no month $part[2].";
                } elseif (! checkdate($month, $day, $year)) {
                    $first = new \DateTimeImmutable("$part[1]-$month-1");
                    $found[] = "$token->text is no date: {$first->format('F Y')} has {$first->format('t')} days.";
                }
            }
        }

        return array_values(array_unique($found));
    }
}
