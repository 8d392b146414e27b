<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

use DeepSpring\OData\ODataVersion;

/**
 * Built-in functions of filters: how many arguments they take and what they give
 * (OData 4.01 URL conventions §5.1.1.5 to §5.1.1.10; [URI conventions 2.0] §4.5).
 */
final class Functions
{
    /** name → [fewest arguments, most, type] */
    private const BOTH = [
        'startswith' => [2, 2, 'Edm.Boolean'], 'endswith' => [2, 2, 'Edm.Boolean'], 'length' => [1, 1, 'Edm.Int32'], 'indexof' => [2, 2, 'Edm.Int32'],
        'substring' => [2, 3, 'Edm.String'], 'tolower' => [1, 1, 'Edm.String'], 'toupper' => [1, 1, 'Edm.String'], 'trim' => [1, 1, 'Edm.String'], 'concat' => [2, 2, 'Edm.String'],
        'year' => [1, 1, 'Edm.Int32'], 'month' => [1, 1, 'Edm.Int32'], 'day' => [1, 1, 'Edm.Int32'], 'hour' => [1, 1, 'Edm.Int32'], 'minute' => [1, 1, 'Edm.Int32'], 'second' => [1, 1, 'Edm.Int32'],
        'round' => [1, 1, ''], 'floor' => [1, 1, ''], 'ceiling' => [1, 1, ''], 'isof' => [1, 2, 'Edm.Boolean'], 'cast' => [1, 2, ''],
    ];

    private const OLD = ['substringof' => [2, 2, 'Edm.Boolean'], 'replace' => [3, 3, 'Edm.String']];

    private const NEW = [
        'contains' => [2, 2, 'Edm.Boolean'], 'matchesPattern' => [2, 2, 'Edm.Boolean'], 'hassubset' => [2, 2, 'Edm.Boolean'], 'hassubsequence' => [2, 2, 'Edm.Boolean'],
        'date' => [1, 1, 'Edm.Date'], 'time' => [1, 1, 'Edm.TimeOfDay'], 'fractionalseconds' => [1, 1, 'Edm.Decimal'], 'totaloffsetminutes' => [1, 1, 'Edm.Int32'], 'totalseconds' => [1, 1, 'Edm.Decimal'],
        'now' => [0, 0, 'Edm.DateTimeOffset'], 'mindatetime' => [0, 0, 'Edm.DateTimeOffset'], 'maxdatetime' => [0, 0, 'Edm.DateTimeOffset'], 'case' => [1, 100, ''],
        'geo.distance' => [2, 2, 'Edm.Double'], 'geo.intersects' => [2, 2, 'Edm.Boolean'], 'geo.length' => [1, 1, 'Edm.Double'],
    ];

    /**
     * @return array<string, array{int, int, string}>
     */
    public static function of(ODataVersion $version): array
    {
        return self::BOTH + ($version->isV4() ? self::NEW : self::OLD);
    }

    /**
     * What another version calls it.
     */
    public static function elsewhere(string $name, ODataVersion $version): ?string
    {
        return match (true) {
            $version->isV4() && $name === 'substringof' => "contains(Name, 'part'): the text first, then the part",
            ! $version->isV4() && $name === 'contains' => "substringof('part', Name): the part first, then the text",
            default => null,
        };
    }
}
