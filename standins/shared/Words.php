<?php

declare(strict_types=1);

namespace StandIns;

/**
 * The made-up people, places and things of the Saltmarsh Circle, chosen by number so that the
 * same number always gives the same.
 */
final class Words
{
    /** slug → name, town, post code */
    public const HOUSES = [
        'north-quay' => ['North Quay Museum', 'Osmery', '01450'], 'east-battery' => ['East Battery', 'Marrow', '20211'],
        'salt-farm' => ['The Salt Farm', 'Lesser Pell', '00731'], 'tidewater-hall' => ['Tidewater Hall', 'Osmery', '01451'],
        'long-gallery' => ['The Long Gallery', 'Marrow', '20214'], 'harrow-mill' => ['Harrow Mill', 'Lesser Pell', '00735'],
        'caldmouth-works' => ['Caldmouth Works', 'Caldmouth', '33007'], 'nine-elders' => ['Nine Elders House', 'Osmery', '01460'],
        'lantern-room' => ['The Lantern Room', 'Vell', '07120'], 'rope-walk' => ['Rope Walk', 'Vell', '07122'],
        'glass-yard' => ['The Glass Yard', 'Caldmouth', '33010'], 'reed-house' => ['Reed House', 'Upper Pell', '00702'],
        'weir-lodge' => ['Weir Lodge', 'Upper Pell', '00704'], 'chart-room' => ['The Chart Room', 'Marrow', '20230'],
        'gull-tower' => ['Gull Tower', 'Sarn', '08001'], 'kelp-barn' => ['The Kelp Barn', 'Sarn', '08005'],
        'old-customs' => ['Old Customs', 'Caldmouth', '33001'], 'brine-court' => ['Brine Court', 'Osmery', '01477'],
        'pilot-house' => ['Pilot House', 'Sarn', '08010'], 'amber-store' => ['The Amber Store', 'Vell', '07130'],
        'foundry-row' => ['Foundry Row', 'Caldmouth', '33018'], 'marsh-school' => ['Marsh School', 'Lesser Pell', '00740'],
        'ferry-steps' => ['Ferry Steps', 'Marrow', '20240'], 'bell-loft' => ['The Bell Loft', 'Upper Pell', '00711'],
    ];

    public const PEOPLE = ['Ines Varga', 'Tomas Reyl', 'Ødegård Halla', 'Þóra Finnvik', 'Łucja Wend', '渡辺 澪', 'Σοφία Μαρέλλη', 'ليلى حدّاد', 'Ana-María Ferrol', "Dónal O'Shee", 'Jürgen Plöhn', 'Мила Орска'];

    public const THINGS = ['Brass sextant', 'Tide table, hand-coloured', 'Eel trap', 'Ship\'s bell "Perpetua"', 'Salt pan rake', 'Pilot\'s coat', 'Lantern, whale oil', 'Chart of the outer banks', 'Amber bead string', 'Net mender\'s bench', 'Glass float', 'Ferry toll board', 'Ledger, 1807–1811', 'Figurehead, oak', 'Storm glass'];

    public const MATERIALS = ['oak', 'brass', 'linen', 'paper', 'glass', 'amber', 'iron', 'horn', 'wool', 'tin'];

    /**
     * A whole number from a seed, the same on every machine.
     */
    public static function number(string $seed, int $least, int $most): int
    {
        return $least + (int) (hexdec(substr(hash('xxh3', $seed), 0, 12)) % ($most - $least + 1));
    }

    /**
     * @template T
     *
     * @param  non-empty-list<T>  $from
     * @return T
     */
    public static function pick(string $seed, array $from): mixed
    {
        return $from[self::number($seed, 0, count($from) - 1)];
    }
}
