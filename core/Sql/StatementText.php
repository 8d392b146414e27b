<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * One statement of a text, without the semicolon behind it.
 */
final readonly class StatementText
{
    /**
     * @param  int  $at  bytes before it in the text
     */
    private function __construct(public string $sql, public int $at)
    {
    }

    /**
     * @return list<self> those that say something
     */
    public static function all(string $text): array
    {
        $all = [];
        $begins = 0;
        $says = false;
        foreach (Lexer::read($text) as $token) {
            if (! $token->is(';')) {
                $says = true;

                continue;
            }
            if ($says) {
                $all[] = self::cut($text, $begins, $token->at);
            }
            [$begins, $says] = [$token->end(), false];
        }

        return $says ? [...$all, self::cut($text, $begins, strlen($text))] : $all;
    }

    /**
     * The one that the cursor stands in, or behind; null where there is none at all.
     *
     * @param  int  $cursor  bytes before the cursor
     */
    public static function at(string $text, int $cursor): ?self
    {
        $chosen = null;
        foreach (self::all($text) as $one) {
            if ($chosen === null || $one->at <= $cursor) {
                $chosen = $one;
            }
        }

        return $chosen;
    }

    private static function cut(string $text, int $from, int $to): self
    {
        $piece = substr($text, $from, $to - $from);
        $blank = strspn($piece, " \t\r\n");

        return new self(rtrim(substr($piece, $blank)), $from + $blank);
    }
}
