<?php

declare(strict_types=1);

namespace App\Outlets;

/**
 * In which form rows are answered. JSON comes page by page; files hold all rows.
 */
enum FeedForm: string
{
    case Json = 'json';
    case Ndjson = 'ndjson';
    case Csv = 'csv';
    case Tsv = 'tsv';
    case Xlsx = 'xlsx';

    public function mediaType(): string
    {
        return match ($this) {
            self::Json => 'application/json',
            self::Ndjson => 'application/x-ndjson',
            self::Csv => 'text/csv; charset=utf-8; header=present',
            self::Tsv => 'text/tab-separated-values; charset=utf-8',
            self::Xlsx => 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        };
    }

    /**
     * What a reader takes, best first, → a form; null where there is none among them.
     *
     * @param  list<string>  $accepted  media types without parameters
     */
    public static function accepted(array $accepted): ?self
    {
        foreach ($accepted === [] ? ['*/*'] : $accepted as $type) {
            $form = match (strtolower($type)) {
                '*/*', 'application/*', 'application/json', 'text/html', 'text/json' => self::Json,
                'application/x-ndjson', 'application/ndjson', 'application/jsonl' => self::Ndjson,
                'text/csv', 'text/*' => self::Csv,
                'text/tab-separated-values' => self::Tsv,
                'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' => self::Xlsx,
                default => null,
            };
            if ($form !== null) {
                return $form;
            }
        }

        return null;
    }
}
