<?php

declare(strict_types=1);

namespace App\Models;

use App\Secrets\Vault;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportNotice;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Carbon;

/**
 * A description that was read and waits for somebody to choose from it. It is sealed, since a command
 * or a recording can hold secrets, and it goes after a day.
 *
 * @property int $id
 * @property string $token
 * @property int $user_id
 * @property int|null $source_id
 * @property string $kind
 * @property string $title
 * @property string $found
 * @property Carbon $created_at
 */
final class PendingImport extends Model
{
    protected $guarded = [];

    /**
     * @param  list<Described>  $all
     */
    public static function keep(array $all, User $user, ?Source $source, Vault $vault): self
    {
        self::query()->where('created_at', '<', now()->subDay())->delete();

        return self::query()->create(['token' => bin2hex(random_bytes(16)), 'user_id' => $user->id, 'source_id' => $source?->id, 'kind' => $all[0]->kind, 'title' => mb_substr($all[0]->title, 0, 190), 'found' => $vault->seal((string) gzdeflate(serialize($all), 1))]);
    }

    public function getRouteKeyName(): string
    {
        return 'token';
    }

    /**
     * @return non-empty-list<Described>
     */
    public function described(Vault $vault): array
    {
        $all = unserialize((string) gzinflate((string) $vault->unseal($this->found)), ['allowed_classes' => [Described::class, ImportedEndpoint::class, ImportNotice::class, \stdClass::class]]);

        return is_array($all) && $all !== [] ? array_values($all) : throw new \LogicException('What was kept cannot be read.');
    }
}
