<?php

declare(strict_types=1);

namespace App\Imports;

use App\Models\PendingImport;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportNotice;

/**
 * Keeps what was read of a description, sealed, until somebody has chosen from it; for a day.
 */
final readonly class PendingImports
{
    public function __construct(private Vault $vault)
    {
    }

    /**
     * @param  non-empty-list<Described>  $all
     * @param  Source|null  $source  that it is added to; null for a new one
     */
    public function keep(array $all, User $user, ?Source $source): PendingImport
    {
        PendingImport::query()->where('created_at', '<', now()->subDay())->delete();

        return PendingImport::query()->create([
            'token' => bin2hex(random_bytes(16)), 'user_id' => $user->id, 'source_id' => $source?->id, 'kind' => $all[0]->kind,
            'title' => mb_substr($all[0]->title, 0, 190), 'found' => $this->vault->seal((string) gzdeflate(serialize($all), 1)),
        ]);
    }

    /**
     * @return non-empty-list<Described>
     */
    public function open(PendingImport $import): array
    {
        $classes = [Described::class, ImportedEndpoint::class, ImportNotice::class, \stdClass::class];
        $all = unserialize((string) gzinflate((string) $this->vault->unseal($import->found)), ['allowed_classes' => $classes]);

        return is_array($all) && $all !== [] ? array_values($all) : throw new \LogicException('What was kept cannot be read.');
    }
}
