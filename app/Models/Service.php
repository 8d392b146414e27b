<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\OData\Model\Model as ServiceModel;
use Illuminate\Support\Carbon;

/**
 * What an OData service said of itself when it was last asked.
 *
 * @property int $id
 * @property int $source_id
 * @property int $environment_id
 * @property string $version as it is written, like 4.01
 * @property int $sets
 * @property int $types
 * @property int $bytes of the documents
 * @property string $hash
 * @property list<string> $left_out references that were not followed, with the reason
 * @property string $model deflated JSON
 * @property string $listing deflated JSON
 * @property Carbon $read_at
 */
final class Service extends Record
{
    protected $guarded = [];

    /**
     * @return array<string, string>
     */
    protected function casts(): array
    {
        return ['left_out' => 'array', 'read_at' => 'datetime'];
    }

    public function model(): ServiceModel
    {
        return new ServiceModel(json_decode((string) gzinflate($this->model), true, 512, JSON_THROW_ON_ERROR));
    }

    /**
     * @return list<array{name: string, label: string, about: string, type: string, namespace: string, container: string, single: bool, columns: int, ways: int, key: string, count: bool}>
     */
    public function listing(): array
    {
        return json_decode((string) gzinflate($this->listing), true, 512, JSON_THROW_ON_ERROR);
    }
}
