<?php

declare(strict_types=1);

namespace App\Models;

/**
 * What administrators choose for everybody.
 *
 * @property string $name
 * @property string $value
 */
final class Setting extends Record
{
    /** Roles, with blanks between, that have to sign in with a second factor. */
    public const SECOND_FACTOR_FOR = 'second_factor_for';

    public $timestamps = false;

    public $incrementing = false;

    protected $primaryKey = 'name';

    protected $keyType = 'string';

    protected $guarded = [];

    public static function text(string $name): string
    {
        return (string) self::query()->whereKey($name)->value('value');
    }

    public static function set(string $name, string $value): void
    {
        self::query()->updateOrCreate(['name' => $name], ['value' => $value]);
    }
}
