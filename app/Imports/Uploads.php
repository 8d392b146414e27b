<?php

declare(strict_types=1);

namespace App\Imports;

use App\Models\Environment;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Models\Upload;
use App\Models\User;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Spreadsheet\SheetCsv;
use DeepSpring\Describe\Spreadsheet\XlsxSheet;
use Illuminate\Support\Carbon;
use Illuminate\Support\Str;

/**
 * Files of rows that are handed in: CSV as it is, a sheet as CSV.
 */
final class Uploads
{
    /** Short name of the endpoint that reads it. */
    public const ENDPOINT = 'rows';

    /** Bytes as CSV. */
    public const LARGEST = 64 * 1024 * 1024;

    /** Bytes once deflated, which is what the database takes at once. */
    private const DEFLATED = 12 * 1024 * 1024;

    private const ZIP = "PK\x03\x04";

    /** @var list<string> what has to be told of the file that was read last, in sentences */
    public array $told = [];

    /**
     * The file that a source reads in an environment.
     */
    public static function of(Source $source, Environment $environment): ?Upload
    {
        $file = $source->current();
        $base = $file->source()->base($environment->slug);
        $path = $file->endpoint(self::ENDPOINT)?->ask()->path;

        return $base === null || $path === null ? null : Upload::at($base.$path);
    }

    /**
     * Gives up files that no source reads any more, a day after they were handed in.
     */
    public static function tidy(): void
    {
        $old = Upload::query()->with('environment')->where('updated_at', '<', Carbon::now()->subDay())->get(['id', 'environment_id', 'slug']);
        if ($old->isEmpty()) {
            return;
        }
        $used = [];
        // Whatever version says so: one that is brought back finds its file.
        foreach (SourceDocument::query()->where('document', 'like', '%'.Upload::HOST.'%')->get() as $document) {
            $file = $document->file();
            foreach ($file->source()->environments() as $environment) {
                $used[] = $file->source()->base($environment).($file->endpoint(self::ENDPOINT)?->ask()->path ?? '');
            }
        }
        Upload::query()->whereKey($old->reject(static fn (Upload $one): bool => in_array($one->address(), $used, true))->modelKeys())->delete();
    }

    /**
     * Whether a file is one of rows, by its name.
     */
    public static function isOne(string $name): bool
    {
        return preg_match('/\.(csv|tsv|xlsx)$/iD', $name) === 1;
    }

    /**
     * @param  string  $path  where the file lies
     * @param  string  $name  as it was called
     * @param  Upload|null  $instead  the file whose place it takes
     *
     * @throws CannotDescribe with a sentence
     */
    public function put(Environment $environment, string $path, string $name, ?User $by, ?string $sheet = null, ?Upload $instead = null): Upload
    {
        $this->told = [];
        [$csv, $read] = $this->csv($path, $sheet);
        if (trim($csv) === '') {
            throw CannotDescribe::because("The file $name has no rows.");
        }
        if (strlen($csv) > self::LARGEST) {
            throw CannotDescribe::because("The file $name has more than 64 MB as CSV. Split it.");
        }
        $body = (string) gzdeflate($csv, 6);
        if (strlen($body) > self::DEFLATED) {
            throw CannotDescribe::because("The file $name is larger than can be kept, also when it is packed (12 MB). Split it.");
        }
        $upload = $instead ?? new Upload(['environment_id' => $environment->id, 'slug' => $this->slug($environment, $name)]);
        $upload->fill(['file_name' => mb_strimwidth(mb_scrub($name, 'UTF-8'), 0, 190, '…'), 'sheet' => $read, 'bytes' => strlen($csv), 'mark' => hash('xxh128', $csv), 'body' => $body, 'user_id' => $by?->id])->save();

        return $upload;
    }

    /**
     * @return array{string, string|null} CSV, and the sheet that it was made of
     *
     * @throws CannotDescribe
     */
    private function csv(string $path, ?string $wanted): array
    {
        $start = (string) @file_get_contents($path, false, null, 0, 4);
        if ($start !== self::ZIP) {
            if (@filesize($path) > self::LARGEST) {
                throw CannotDescribe::because('The file has more than 64 MB. Split it.');
            }
            $csv = (string) @file_get_contents($path);
            $isWide = str_starts_with($csv, "\xFF\xFE") || str_starts_with($csv, "\xFE\xFF");
            if (! $isWide && str_contains(substr($csv, 0, 4096), "\0")) {
                throw CannotDescribe::because('This is neither CSV nor XLSX. An older spreadsheet (.xls) has to be saved as one of them.');
            }

            return [$csv, null];
        }
        $sheet = new XlsxSheet($path, $wanted);
        $to = fopen('php://temp/maxmemory:8388608', 'w+') ?: throw CannotDescribe::because('No temporary file can be made.');
        (new SheetCsv)->write($sheet, $to, self::LARGEST);
        rewind($to);
        $name = $wanted ?? $sheet->read;
        if (count($sheet->sheets) > 1) {
            $this->told[] = 'Of the sheets '.implode(', ', $sheet->sheets)." \"$name\" was read.";
        }
        if ($sheet->errors > 0) {
            $this->told[] = ($sheet->errors === 1 ? 'One cell holds an error' : "$sheet->errors cells hold an error").' (#N/A for one) and counts as empty.';
        }

        return [(string) stream_get_contents($to), $name];
    }

    private function slug(Environment $environment, string $name): string
    {
        $base = mb_strcut(Str::slug(pathinfo($name, PATHINFO_FILENAME)) ?: 'file', 0, 80);
        for ($number = 1; ; $number++) {
            $slug = $base.($number === 1 ? '' : "-$number");
            if (Upload::query()->where(['environment_id' => $environment->id, 'slug' => $slug])->doesntExist()) {
                return $slug;
            }
        }
    }
}
