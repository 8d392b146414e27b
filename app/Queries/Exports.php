<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\Principal;
use DeepSpring\Export\CannotExport;
use DeepSpring\Export\ExportChoice;
use DeepSpring\Export\ExportColumn;
use DeepSpring\Export\ExportFormat;
use DeepSpring\Export\ExportWriter;
use DeepSpring\Export\XlsxWriter;

/**
 * Results as files. A file is handed out once all of it is there, so none that broke off looks whole.
 */
final readonly class Exports
{
    /** Rows between two looks at whether somebody wants it stopped. */
    private const LOOK = 2000;

    public function __construct(private QueryRunner $runner)
    {
    }

    /**
     * @param  list<string>  $statements  of several, XLSX has a sheet for each; other formats take one
     * @param  (\Closure(int): bool)|null  $progress  told how many rows there are; false stops it
     * @param  (\Closure(OpenResult): void)|null  $opened  told of each statement once it is being answered
     * @return ExportOutcome|null null when it was stopped
     *
     * @throws QueryRefused
     * @throws CannotExport
     */
    public function write(Principal $principal, Environment $environment, array $statements, ExportFormat $format, ExportChoice $choice, string $path, ?int $seconds = null, ?\Closure $progress = null, ?\Closure $opened = null): ?ExportOutcome
    {
        if (count($statements) > 1 && $format !== ExportFormat::Xlsx) {
            throw CannotExport::because("{$format->label()} holds one result. Choose XLSX for several, or leave one statement.");
        }
        $writer = $format->writer($path, $choice);
        $rows = 0;
        $more = [];
        try {
            foreach ($statements as $number => $one) {
                $open = $this->runner->stream($principal, $environment, $one, $seconds ?? 10 * (int) config('spring.query.seconds'));
                $writer instanceof XlsxWriter && $writer->named(count($statements) === 1 ? 'Rows' : 'Result '.($number + 1));
                $opened === null || $opened($open);
                $headings = $choice->titles && ! in_array($format, [ExportFormat::Json, ExportFormat::Ndjson], true) ? ColumnTexts::headings($environment, $one) : [];
                [$columns, $renamed] = self::columns($open->columns, $headings);
                $writer->begin($columns);
                array_push($more, ...$renamed);
                foreach ($open->rows as $row) {
                    $writer->row($row);
                    if (++$rows % self::LOOK === 0 && $progress !== null && ! $progress($rows)) {
                        self::tidy($writer, $path);

                        return null;
                    }
                }
            }
            $writer->end();
        } catch (\Throwable $failed) {
            self::tidy($writer, $path);

            throw $failed;
        }

        return new ExportOutcome($rows, [...$more, ...$writer->said()]);
    }

    private static function tidy(ExportWriter $writer, string $path): void
    {
        $writer instanceof XlsxWriter && $writer->tidy();
        str_starts_with($path, 'php:') || @unlink($path);
    }

    /**
     * Columns of one name get a number, since most readers keep one of them only.
     *
     * @param  list<ResultColumn>  $given
     * @param  array<int, string>  $headings  that stand for their names, by place
     * @return array{list<ExportColumn>, list<string>} and what has to be said of it
     */
    private static function columns(array $given, array $headings): array
    {
        $taken = $columns = $renamed = [];
        foreach ($given as $place => $column) {
            $heading = $headings[$place] ?? $column->name;
            for ($name = $heading, $number = 2; isset($taken[$name]); $number++) {
                $name = "$heading $number";
            }
            $taken[$name] = true;
            $name === $heading || $renamed[] = "A second column \"$heading\" is called \"$name\".";
            $columns[] = new ExportColumn($name, $column->type, $column->scale);
        }

        return [$columns, $renamed];
    }
}
