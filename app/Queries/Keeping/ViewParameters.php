<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\QueryKeep;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\StatementValues;
use App\Reservoir\Views;
use DeepSpring\Sql\BoundStatement;
use DeepSpring\Sql\Parameter;
use DeepSpring\Sql\ParameterKind;

/**
 * Parameters of a query that is kept as a view: who reads it gets the default of each, and a connection can ask with
 * others. Several values are asked for as a JSON array of texts, where they stand alone in the brackets of an `in`; one
 * that takes several and stands elsewhere has its default.
 */
final class ViewParameters
{
    /**
     * The statement of a view, which takes what is asked with and else the defaults.
     *
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $settings
     *
     * @throws QueryRefused
     */
    public static function written(string $view, string $sql, array $settings, User $owner): string
    {
        return StatementValues::bound($sql, $settings, [], $owner, static function (Parameter $parameter, string $default) use ($view, $sql): string {
            $asked = Views::ASKED_FUNCTION."('".self::name($view, $parameter->name)."')";
            if (! $parameter->many) {
                return 'COALESCE('.self::typed($parameter, $asked).", $default)";
            }

            return BoundStatement::isList($sql, $parameter->name) ? 'SELECT '.self::typed($parameter, 'asked COLLATE utf8mb4_nopad_bin')." FROM JSON_TABLE(COALESCE($asked, JSON_ARRAY($default)), '$[*]' COLUMNS (asked LONGTEXT CHARACTER SET utf8mb4 PATH '$')) AS asked_for" : $default;
        })->sql;
    }

    private static function typed(Parameter $parameter, string $text): string
    {
        return match ($parameter->kind) {
            ParameterKind::Text => $text,
            ParameterKind::Number => "CAST($text AS DECIMAL(65,20))",
            ParameterKind::Date => "CAST($text AS DATE)",
            ParameterKind::Moment => "CAST($text AS DATETIME(6))",
        };
    }

    /**
     * What a reader of a view can ask with.
     *
     * @return list<Parameter>
     */
    public static function of(int $environment, string $view): array
    {
        $keep = QueryKeep::query()->with('savedQuery')->where(['environment_id' => $environment, 'name' => $view, 'is_view' => true])->first();
        if ($keep === null) {
            return [];
        }
        $said = $keep->said();
        $known = StatementValues::parameters($said->parameters ?? []);

        return array_values(array_filter(array_map(static fn (string $name): Parameter => $known[$name] ?? new Parameter($name), BoundStatement::names($said->sql)), static fn (Parameter $one): bool => $one->default !== null && (! $one->many || BoundStatement::isList($said->sql, $one->name))));
    }

    /**
     * Under which it stands in the variable of a connection. Names of views and of parameters hold no quotes.
     */
    public static function name(string $view, string $parameter): string
    {
        return "$view:$parameter";
    }
}
