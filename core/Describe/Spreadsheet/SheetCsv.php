<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Spreadsheet;

use DeepSpring\Describe\CannotDescribe;

/**
 * A sheet → CSV (RFC 4180), with a first line that names each column, and each differently.
 */
final class SheetCsv
{
    /** Rows without a line of names. */
    public int $rows = 0;

    /**
     * @param  resource  $to
     * @param  int  $most  bytes, whatever the file says of its size
     *
     * @throws CannotDescribe
     */
    public function write(XlsxSheet $sheet, $to, int $most = PHP_INT_MAX): void
    {
        $width = $bytes = 0;
        foreach ($sheet->rows() as $row) {
            if ($width === 0) {
                $names = self::names($row);
                $width = count($names);
                $bytes += (int) fputcsv($to, $names, ',', '"', '');

                continue;
            }
            $bytes += (int) fputcsv($to, array_map(static fn (?string $cell): string => $cell ?? '', array_pad($row, $width, null)), ',', '"', '');
            $this->rows++;
            if ($bytes > $most) {
                throw CannotDescribe::because('The sheet has more than '.intdiv($most, 1024 * 1024).' MB as CSV. Split it.');
            }
        }
    }

    /**
     * @param  list<string|null>  $cells
     * @return list<string>
     */
    private static function names(array $cells): array
    {
        $names = [];
        foreach ($cells as $place => $cell) {
            $name = $base = trim((string) preg_replace('/\s+/u', ' ', $cell ?? '')) ?: 'column '.($place + 1);
            for ($number = 2; in_array(mb_strtolower($name), array_map(mb_strtolower(...), $names), true); $number++) {
                $name = "$base $number";
            }
            $names[] = $name;
        }

        return $names;
    }
}
