<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\Flatten\Drift\DataProfile;

/**
 * What one run saw of its records.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property int|null $run_id
 * @property string $picture deflated JSON
 * @property \Illuminate\Support\Carbon $created_at
 */
final class SeenProfile extends Record
{
    protected $table = 'pictures';

    protected $guarded = [];

    protected $dateFormat = 'Y-m-d H:i:s.u';

    public function read(): ?DataProfile
    {
        $json = json_decode((string) @gzinflate($this->picture), true);

        return is_array($json) ? DataProfile::fromArray($json) : null;
    }
}
