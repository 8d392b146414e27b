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
    /** Of what is kept; what an earlier one has kept is handed in again. */
    private const VERSION = 3;

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
            'title' => mb_substr($all[0]->title, 0, 190), 'found' => $this->vault->seal((string) gzdeflate(serialize([self::VERSION, $all]), 1)),
        ]);
    }

    /**
     * @return non-empty-list<Described>
     *
     * @throws \Symfony\Component\HttpKernel\Exception\HttpException 410 where an earlier version of the application has kept it
     */
    public function open(PendingImport $import): array
    {
        $classes = [Described::class, ImportedEndpoint::class, ImportNotice::class, \stdClass::class];
        $kept = unserialize((string) gzinflate((string) $this->vault->unseal($import->found)), ['allowed_classes' => $classes]);
        [$version, $all] = is_array($kept) ? $kept + [0 => null, 1 => null] : [null, null];

        return $version === self::VERSION && is_array($all) && $all !== [] ? array_values($all) : abort(410, 'This was read by an earlier version of the application. Hand it in again.');
    }
}
