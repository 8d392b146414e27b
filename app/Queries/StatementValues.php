<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\User;
use DeepSpring\Sql\BoundStatement;
use DeepSpring\Sql\InvalidParameter;
use DeepSpring\Sql\Parameter;
use Illuminate\Support\Carbon;

/**
 * Values in the place of parameters, in the time zone of whoever asks.
 */
final class StatementValues
{
    /**
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $settings  by name
     * @param  array<string, string|list<string>>  $values
     * @param  (\Closure(Parameter, string): string)|null  $write  see `BoundStatement::of()`
     *
     * @throws QueryRefused
     */
    public static function bound(string $sql, array $settings, array $values, User $person, ?\Closure $write = null): BoundStatement
    {
        try {
            return BoundStatement::of($sql, self::parameters($settings), $values, Carbon::now()->toDateTimeImmutable(), new \DateTimeZone($person->zone), $write);
        } catch (InvalidParameter $invalid) {
            throw QueryRefused::because($invalid->getMessage(), $invalid);
        }
    }

    /**
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $settings
     * @return array<string, Parameter>
     */
    public static function parameters(array $settings): array
    {
        $parameters = [];
        foreach ($settings as $name => $one) {
            $parameters[$name] = Parameter::of((string) $name, $one);
        }

        return $parameters;
    }
}
