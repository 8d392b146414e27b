<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * Names that MariaDB takes unquoted and tells apart whatever their case. The same list of names
 * always gives the same result.
 */
final class SafeNames
{
    private const LONGEST = 64;

    /** Reserved words of MariaDB, and those that read as values. */
    private const RESERVED = ' accessible add all alter analyze and as asc asensitive before between bigint binary blob both by call cascade case change char character check collate column condition constraint continue convert create cross current_date current_role current_time current_timestamp current_user cursor database databases day_hour day_microsecond day_minute day_second dec decimal declare default delayed delete delete_domain_id desc describe deterministic distinct distinctrow div do_domain_ids double drop dual each else elseif enclosed escaped except exists exit explain false fetch float float4 float8 for force foreign from fulltext general grant group having high_priority hour_microsecond hour_minute hour_second if ignore ignore_domain_ids ignore_server_ids in index infile inner inout insensitive insert int int1 int2 int3 int4 int8 integer intersect interval into is iterate join key keys kill leading leave left like limit linear lines load localtime localtimestamp lock long longblob longtext loop low_priority master_heartbeat_period master_ssl_verify_server_cert match maxvalue mediumblob mediumint mediumtext middleint minute_microsecond minute_second mod modifies natural no_write_to_binlog not null numeric offset on optimize option optionally or order out outer outfile over page_checksum parse_vcol_expr partition precision primary procedure purge range read reads read_write real recursive ref_system_id references regexp release rename repeat replace require resignal restrict return returning revoke right rlike row_number rows schema schemas second_microsecond select sensitive separator set show signal slow smallint spatial specific sql sqlexception sqlstate sqlwarning sql_big_result sql_calc_found_rows sql_small_result ssl starting stats_auto_recalc stats_persistent stats_sample_pages straight_join table terminated then tinyblob tinyint tinytext to trailing trigger true undo union unique unlock unsigned update usage use using utc_date utc_time utc_timestamp values varbinary varchar varcharacter varying when where while window with write xor year_month zerofill ';

    /**
     * @param  list<string>  $names
     * @return list<string> in the same order
     */
    public static function all(array $names): array
    {
        $taken = [];
        $safe = [];
        foreach ($names as $name) {
            $clean = self::clean($name);
            for ($number = 2, $try = $clean; isset($taken[$try]); $number++) {
                $try = rtrim(substr($clean, 0, self::LONGEST - strlen("_$number")), '_')."_$number";
            }
            $taken[$try] = true;
            $safe[] = $try;
        }

        return $safe;
    }

    /**
     * One name alone: Latin letters, digits and underscores, in lower case.
     */
    public static function clean(string $name): string
    {
        $spaced = preg_replace(['/(?<=[a-z0-9])(?=[A-Z])/', '/(?<=[A-Z])(?=[A-Z][a-z])/'], '_', $name) ?? $name;
        // Making a transliterator takes longer than all the rest, and most names need none.
        $latin = preg_match('/^[\x00-\x7f]*$/D', $spaced) === 1 ? $spaced : transliterator_transliterate('Any-Latin; Latin-ASCII; Lower()', $spaced);
        $clean = trim(preg_replace('/[^a-z0-9_]+/', '_', strtolower($latin === false ? $spaced : $latin)) ?? '', '_');
        $clean = preg_replace('/__+/', '_', $clean) ?? '';

        if ($clean === '') {
            return 'unnamed_'.substr(hash('sha256', $name), 0, 6);
        }
        if (ctype_digit($clean[0])) {
            $clean = '_'.$clean;
        }
        if (str_contains(self::RESERVED, " $clean ")) {
            $clean .= '_';
        }

        return strlen($clean) <= self::LONGEST ? $clean : substr($clean, 0, self::LONGEST - 9).'_'.substr(hash('sha256', $name), 0, 8);
    }

    public static function isSafe(string $name): bool
    {
        return self::clean($name) === $name;
    }
}
