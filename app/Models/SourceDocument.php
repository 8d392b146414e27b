<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Carbon;

/**
 * @property int $id
 * @property int $source_id
 * @property int|null $version
 * @property string $document JSON of a source file
 * @property int|null $author_id
 * @property Carbon $created_at
 */
final class SourceDocument extends Model
{
    protected $guarded = [];

    public function file(): SourceFile
    {
        return SourceFile::stored($this->document);
    }
}
