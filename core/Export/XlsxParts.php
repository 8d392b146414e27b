<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * What a workbook needs around its sheets (ECMA-376 part 1, 12.2, and part 2).
 */
final class XlsxParts
{
    public const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>'."\n";

    public const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';

    private const RELATIONS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

    private const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';

    /** Style of the head. */
    public const HEAD = 1;

    private const DATE = 2;

    private const MOMENT = 3;

    private const MOMENT_MS = 4;

    private const TIME = 5;

    /** The first of the styles for 1 to 9 digits after the point. */
    private const DECIMAL = 6;

    private const DECIMALS = 9;

    /**
     * @param  list<string>  $names  of the sheets
     * @return array<string, string> by the place in the package
     */
    public static function around(array $names): array
    {
        $types = $sheets = $relations = '';
        foreach ($names as $number => $name) {
            $number++;
            $types .= "<Override PartName=\"/xl/worksheets/sheet$number.xml\" ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml\"/>";
            $sheets .= '<sheet name="'.htmlspecialchars($name, ENT_QUOTES | ENT_XML1, 'UTF-8')."\" sheetId=\"$number\" r:id=\"rId$number\"/>";
            $relations .= "<Relationship Id=\"rId$number\" Type=\"".self::RELATIONS."/worksheet\" Target=\"worksheets/sheet$number.xml\"/>";
        }
        $styles = count($names) + 1;

        return [
            '[Content_Types].xml' => self::XML.'<Types xmlns="'.self::PACKAGE.'/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>'
                ."<Override PartName=\"/xl/workbook.xml\" ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml\"/><Override PartName=\"/xl/styles.xml\" ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml\"/>$types</Types>",
            '_rels/.rels' => self::XML.'<Relationships xmlns="'.self::PACKAGE.'/relationships"><Relationship Id="rId1" Type="'.self::RELATIONS.'/officeDocument" Target="xl/workbook.xml"/></Relationships>',
            'xl/workbook.xml' => self::XML.'<workbook xmlns="'.self::MAIN.'" xmlns:r="'.self::RELATIONS."\"><sheets>$sheets</sheets></workbook>",
            'xl/_rels/workbook.xml.rels' => self::XML.'<Relationships xmlns="'.self::PACKAGE."/relationships\">$relations<Relationship Id=\"rId$styles\" Type=\"".self::RELATIONS.'/styles" Target="styles.xml"/></Relationships>',
            'xl/styles.xml' => self::styles(),
        ];
    }

    /**
     * The number of the style of a cell that holds a number.
     */
    public static function style(ExportColumn $column, string $value): int
    {
        return match ($column->type) {
            ExportType::Date => self::DATE,
            ExportType::DateTime => preg_match('/\.0*[1-9]/', $value) === 1 ? self::MOMENT_MS : self::MOMENT,
            ExportType::Time => self::TIME,
            ExportType::Decimal => ($column->scale ?? 0) >= 1 && $column->scale <= self::DECIMALS ? self::DECIMAL + $column->scale - 1 : 0,
            default => 0,
        };
    }

    /**
     * Letters of a column, counted from 0: A, Z, AA.
     */
    public static function letters(int $place): string
    {
        static $known = [];
        if (! isset($known[$place])) {
            $letters = '';
            for ($rest = $place; $rest >= 0; $rest = intdiv($rest, 26) - 1) {
                $letters = chr(65 + $rest % 26).$letters;
            }
            $known[$place] = $letters;
        }

        return $known[$place];
    }

    /**
     * A name that a sheet can have: at most 31 characters, without some signs, unlike the others.
     *
     * @param  list<string>  $taken
     */
    public static function sheetName(string $wanted, array $taken): string
    {
        $clean = trim((string) preg_replace('~[\[\]:*?/\\\\\x00-\x1f]+~u', ' ', $wanted), " '");
        $clean = $clean === '' || strcasecmp($clean, 'history') === 0 ? 'Rows' : mb_substr($clean, 0, 31);
        $lower = array_map(mb_strtolower(...), $taken);
        for ($name = $clean, $number = 2; in_array(mb_strtolower($name), $lower, true); $number++) {
            $name = mb_substr($clean, 0, 31 - strlen(" $number"))." $number";
        }

        return $name;
    }

    private static function styles(): string
    {
        $formats = '<numFmt numFmtId="164" formatCode="yyyy\-mm\-dd"/><numFmt numFmtId="165" formatCode="yyyy\-mm\-dd\ hh:mm:ss"/><numFmt numFmtId="166" formatCode="yyyy\-mm\-dd\ hh:mm:ss.000"/><numFmt numFmtId="167" formatCode="hh:mm:ss"/>';
        $cells = '<xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/><xf numFmtId="0" fontId="1" fillId="0" borderId="0" xfId="0" applyFont="1"/>';
        for ($number = 164; $number < 168; $number++) {
            $cells .= "<xf numFmtId=\"$number\" fontId=\"0\" fillId=\"0\" borderId=\"0\" xfId=\"0\" applyNumberFormat=\"1\"/>";
        }
        for ($digits = 1; $digits <= self::DECIMALS; $digits++) {
            $id = 167 + $digits;
            $formats .= "<numFmt numFmtId=\"$id\" formatCode=\"0.".str_repeat('0', $digits).'"/>';
            $cells .= "<xf numFmtId=\"$id\" fontId=\"0\" fillId=\"0\" borderId=\"0\" xfId=\"0\" applyNumberFormat=\"1\"/>";
        }

        return self::XML.'<styleSheet xmlns="'.self::MAIN.'"><numFmts count="'.(4 + self::DECIMALS)."\">$formats</numFmts>"
            .'<fonts count="2"><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="11"/><name val="Calibri"/></font></fonts>'
            .'<fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders>'
            .'<cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="'.(6 + self::DECIMALS)."\">$cells</cellXfs><cellStyles count=\"1\"><cellStyle name=\"Normal\" xfId=\"0\" builtinId=\"0\"/></cellStyles></styleSheet>";
    }
}
