<?php

declare(strict_types=1);

namespace App\Models;

/**
 * @property int $id
 * @property string $slug
 * @property string $name
 * @property int $position
 */
final class Environment extends Record
{
    public const PRODUCTION = 'production';

    public $timestamps = false;

    protected $guarded = [];

    /**
     * The database schema that holds its kept tables.
     */
    public function schema(): string
    {
        return config('database.connections.app.database').'_data'.($this->slug === self::PRODUCTION ? '' : '_'.str_replace('-', '_', $this->slug));
    }

    public static function named(string $slug): ?self
    {
        return self::query()->where('slug', $slug)->first();
    }
}
