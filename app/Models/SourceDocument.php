<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\PackedEndpoints;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $source_id
 * @property int|null $version
 * @property string $document JSON of a source file; of a large one without its endpoints
 * @property string|null $endpoints those of a large one (`PackedEndpoints`)
 * @property int|null $author_id
 * @property Carbon $created_at
 */
final class SourceDocument extends Record
{
    /** From how many endpoints on they are packed. */
    private const MANY = 300;

    protected $guarded = [];

    public function file(): SourceFile
    {
        $file = SourceFile::stored($this->document);

        return $this->endpoints === null ? $file : SourceFile::trusted(['endpoints' => PackedEndpoints::unpack($this->endpoints)] + $file->document);
    }

    /**
     * What is stored of a file.
     *
     * @return array{document: string, endpoints: string|null}
     */
    public static function columns(SourceFile $file): array
    {
        $endpoints = $file->document['endpoints'] ?? [];
        if (count($endpoints) < self::MANY) {
            return ['document' => $file->json(), 'endpoints' => null];
        }

        return ['document' => SourceFile::trusted(['endpoints' => []] + $file->document)->json(), 'endpoints' => PackedEndpoints::pack($endpoints)];
    }
}
