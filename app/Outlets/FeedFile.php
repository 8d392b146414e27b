<?php

declare(strict_types=1);

namespace App\Outlets;

use DeepSpring\Export\CannotExport;
use DeepSpring\Export\ExportChoice;
use DeepSpring\Export\ExportColumn;
use DeepSpring\Export\ExportFormat;
use DeepSpring\Export\ExportType;
use DeepSpring\Export\ExportWriter;
use DeepSpring\Export\XlsxWriter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\RowJson;

/**
 * All rows of an answer as a file, which is handed out once all of it is there, so that none that broke off looks
 * whole. Texts are exactly what they are: what reads a feed is a program.
 */
final class FeedFile
{
    private const TYPES = ['integer' => ExportType::Integer, 'decimal' => ExportType::Decimal, 'float' => ExportType::Float, 'date' => ExportType::Date, 'datetime' => ExportType::DateTime, 'time' => ExportType::Time];

    /** Bytes that are gathered before they are written. */
    private const GATHERED = 65_536;

    /**
     * @param  list<FeedColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     * @return int rows
     *
     * @throws FeedProblem
     */
    public static function write(string $path, FeedForm $form, array $columns, iterable $rows): int
    {
        return match ($form) {
            FeedForm::Json => throw new \LogicException('JSON is answered page by page.'),
            FeedForm::Ndjson => self::lines($path, $columns, $rows),
            default => self::exported($path, ExportFormat::from($form->value), $columns, $rows),
        };
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     */
    private static function lines(string $path, array $columns, iterable $rows): int
    {
        $file = fopen($path, 'wb') ?: throw new FeedProblem(503, 'There is no room to write the file.');
        $json = new RowJson($columns);
        $count = 0;
        $text = '';
        foreach ($rows as $row) {
            $text .= $json->object($row)."\n";
            $count++;
            if (strlen($text) > self::GATHERED) {
                fwrite($file, $text);
                $text = '';
            }
        }
        fwrite($file, $text);

        return fclose($file) ? $count : throw new FeedProblem(503, 'There is no room to write the file.');
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     */
    private static function exported(string $path, ExportFormat $format, array $columns, iterable $rows): int
    {
        $writer = $format->writer($path, new ExportChoice);
        try {
            return self::given($writer, $columns, $rows);
        } catch (\Throwable $failed) {
            $writer instanceof XlsxWriter && $writer->tidy();

            throw $failed instanceof CannotExport ? new FeedProblem(400, $failed->getMessage(), [], 'as', $failed) : $failed;
        }
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     *
     * @throws CannotExport
     */
    private static function given(ExportWriter $writer, array $columns, iterable $rows): int
    {
        $writer->begin(array_map(static fn (FeedColumn $column): ExportColumn => new ExportColumn($column->name, self::TYPES[$column->type] ?? ExportType::Text, $column->scale), $columns));
        $count = 0;
        foreach ($rows as $row) {
            $writer->row($row);
            $count++;
        }
        $writer->end();

        return $count;
    }
}
