<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\PackedEndpoints;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Support\Carbon;

/**
 * What an imported description made of a source, as it was before anybody changed it.
 *
 * @property int $id
 * @property int $source_id
 * @property string $kind
 * @property string $title
 * @property string $endpoints JSON; empty where they are packed
 * @property string|null $packed (`PackedEndpoints`)
 * @property Carbon $created_at
 */
final class Description extends Record
{
    protected $guarded = [];

    /**
     * @return list<array<string, mixed>>
     */
    public function made(): array
    {
        if ($this->packed !== null) {
            return PackedEndpoints::unpack($this->packed);
        }
        $document = JsonSubtrees::document(json_decode('{"endpoints":'.$this->endpoints.'}', false, 512, JSON_THROW_ON_ERROR));

        return array_values($document['endpoints']);
    }
}
