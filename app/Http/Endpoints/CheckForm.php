<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Check\RowCount;

/**
 * What the sheet of an endpoint says of the number of rows → the first of `keep.checks` of a source file. Others
 * stay as the document has them.
 */
final readonly class CheckForm
{
    private const NUMBERS = ['at_least', 'at_most', 'change_at_most'];

    /**
     * @param  array<string, mixed>  $form  at_least, at_most, change_at_most, on
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed> the endpoint
     */
    public static function apply(array $form, array $endpoint): array
    {
        $rows = [];
        foreach (self::NUMBERS as $name) {
            $text = is_string($form[$name] ?? null) ? str_replace([' ', "\u{2009}", ','], '', trim($form[$name])) : '';
            if ($text !== '') {
                // What is no number is told at its place, not mended.
                $rows[$name] = preg_match('/^\d{1,12}$/D', $text) === 1 ? (int) $text : $text;
            }
        }
        $others = array_slice($endpoint['keep']['checks'] ?? [], 1);
        $first = $rows === [] ? [] : [['rows' => $rows] + (($form['on'] ?? '') === RowCount::NOTE ? ['on' => RowCount::NOTE] : [])];
        $checks = [...$first, ...$others];
        $keep = array_diff_key($endpoint['keep'] ?? [], ['checks' => 1]) + ($checks === [] ? [] : ['checks' => $checks]);

        return $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
    }
}
