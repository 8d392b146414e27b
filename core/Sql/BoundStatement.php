<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A statement with values in the place of its parameters, which knows where each place was before.
 */
final readonly class BoundStatement
{
    /**
     * @param  list<array{int, int, int}>  $places  of each value: where it begins, its length, and the length of the parameter it stands for
     */
    private function __construct(public string $sql, private array $places)
    {
    }

    /**
     * Names of parameters, each once, in the order of the text.
     *
     * @return list<string>
     */
    public static function names(string $sql): array
    {
        $names = [];
        foreach (Lexer::read($sql) as $token) {
            if ($token->kind === TokenKind::Parameter) {
                $names[(string) $token->value()] = true;
            }
        }

        return array_keys($names);
    }

    /**
     * Whether a parameter is all that stands in the brackets of an `in`, wherever it stands.
     */
    public static function isList(string $sql, string $name): bool
    {
        $tokens = Lexer::read($sql);
        $isList = false;
        foreach ($tokens as $at => $token) {
            if ($token->kind !== TokenKind::Parameter || $token->value() !== $name) {
                continue;
            }
            $isList = $at > 1 && $tokens[$at - 2]->is('in') && $tokens[$at - 1]->is('(') && ($tokens[$at + 1] ?? null)?->is(')') === true;
            if (! $isList) {
                return false;
            }
        }

        return $isList;
    }

    /**
     * @param  array<string, Parameter>  $parameters  by name; one that is not there is a text without default
     * @param  array<string, string|list<string>>  $values  as somebody typed them
     * @param  \DateTimeZone  $zone  in which dates are meant
     * @param  (\Closure(Parameter, string): string)|null  $write  what is written for a parameter and the literal of its value; the literal where null
     *
     * @throws InvalidParameter
     */
    public static function of(string $sql, array $parameters, array $values, \DateTimeImmutable $now, \DateTimeZone $zone, ?\Closure $write = null): self
    {
        $bound = '';
        $from = 0;
        $places = [];
        foreach (Lexer::read($sql) as $token) {
            if ($token->kind !== TokenKind::Parameter) {
                continue;
            }
            $name = (string) $token->value();
            $parameter = $parameters[$name] ?? new Parameter($name);
            $value = self::value($parameter, $values[$name] ?? '', $now, $zone);
            $value = $write === null ? $value : $write($parameter, $value);
            $bound .= substr($sql, $from, $token->at - $from);
            $places[] = [strlen($bound), strlen($value), strlen($token->text)];
            $bound .= $value;
            $from = $token->end();
        }

        return new self($bound.substr($sql, $from), $places);
    }

    /**
     * Where a place of the bound statement is in the one that was written.
     */
    public function written(int $at): int
    {
        $shift = 0;
        foreach ($this->places as [$begins, $length, $was]) {
            if ($at < $begins) {
                break;
            }
            if ($at < $begins + $length) {
                return $begins - $shift;
            }
            $shift += $length - $was;
        }

        return $at - $shift;
    }

    /**
     * @param  string|list<string>  $given
     *
     * @throws InvalidParameter
     */
    private static function value(Parameter $parameter, string|array $given, \DateTimeImmutable $now, \DateTimeZone $zone): string
    {
        $all = array_values(array_filter(is_array($given) ? $given : [$given], static fn (string $one): bool => $one !== ''));
        if ($all === []) {
            $all = $parameter->default === null ? throw InvalidParameter::missing($parameter->name) : ($parameter->many ? array_map(trim(...), explode(',', $parameter->default)) : [$parameter->default]);
        }
        if (count($all) > 1 && ! $parameter->many) {
            throw InvalidParameter::several($parameter->name);
        }

        return implode(', ', array_map(static fn (string $one): string => self::literal($parameter, $one, $now, $zone), $all));
    }

    /**
     * A literal of MariaDB ("String Literals": in quotes, with quotes and backslashes escaped).
     *
     * @throws InvalidParameter
     */
    private static function literal(Parameter $parameter, string $value, \DateTimeImmutable $now, \DateTimeZone $zone): string
    {
        if (! mb_check_encoding($value, 'UTF-8')) {
            throw InvalidParameter::unfit($parameter, mb_scrub($value, 'UTF-8'));
        }
        $plain = self::plain($parameter, $value, $now, $zone);

        return $parameter->kind === ParameterKind::Number ? $plain : "'".strtr($plain, ['\\' => '\\\\', "'" => "''", "\0" => '\\0', "\x1a" => '\\Z'])."'";
    }

    /**
     * A value as the database has it: dates in words as days, moments in UTC.
     *
     * @throws InvalidParameter
     */
    public static function plain(Parameter $parameter, string $value, \DateTimeImmutable $now, \DateTimeZone $zone): string
    {
        $trimmed = trim($value);

        return match ($parameter->kind) {
            ParameterKind::Text => $value,
            ParameterKind::Number => preg_match('/^[+-]?(?:\d{1,65}(?:\.\d{1,38})?|\.\d{1,38})$/D', $trimmed) === 1 ? $trimmed : throw InvalidParameter::unfit($parameter, $value),
            ParameterKind::Date => self::moment($parameter, $trimmed, $now, $zone)->format('Y-m-d'),
            ParameterKind::Moment => self::moment($parameter, $trimmed, $now, $zone)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.u'),
        };
    }

    /**
     * @throws InvalidParameter
     */
    private static function moment(Parameter $parameter, string $value, \DateTimeImmutable $now, \DateTimeZone $zone): \DateTimeImmutable
    {
        if (preg_match('/^(\d{4})-(\d\d)-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d))?)?$/D', $value, $part) === 1) {
            $isReal = checkdate((int) $part[2], (int) $part[3], (int) $part[1]) && (int) ($part[4] ?? 0) < 24 && (int) ($part[5] ?? 0) < 60 && (int) ($part[6] ?? 0) < 60;

            return $isReal ? new \DateTimeImmutable(strtr($value, 'T', ' '), $zone) : throw InvalidParameter::unfit($parameter, $value);
        }

        return RelativeMoment::of($value, $now, $zone) ?? throw InvalidParameter::unfit($parameter, $value);
    }
}
