<?php

declare(strict_types=1);

namespace App\Sources;

use App\Models\Source;
use DeepSpring\OData\Model\Model;

/**
 * What is known of the services behind sources.
 */
interface KnownModels
{
    /**
     * @return Model|null null as long as its metadata has not been read
     */
    public function of(Source $source): ?Model;
}
