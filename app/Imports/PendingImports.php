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
use DeepSpring\SourceFile\EqualParts;

/**
 * Keeps what was read of a description, sealed, until somebody has chosen from it; for a day.
 */
final readonly class PendingImports
{
    /** Of what is kept; what an earlier one has kept is handed in again. */
    private const VERSION = 4;

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
            'title' => mb_substr($all[0]->title, 0, 190), 'found' => $this->vault->seal((string) gzdeflate($this->written($all), 1)),
        ]);
    }

    /**
     * What many endpoints have in common is written once: read again, it is in memory once, too.
     *
     * @param  non-empty-list<Described>  $all
     */
    private function written(array $all): string
    {
        $parts = new EqualParts;

        return serialize([self::VERSION, self::each($all, $parts->taken(...)), $parts]);
    }

    /**
     * @param  non-empty-list<Described>  $all
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change  of an endpoint
     * @return non-empty-list<Described>
     */
    private static function each(array $all, \Closure $change): array
    {
        return array_map(static fn (Described $one): Described => $one->changed(static fn (ImportedEndpoint $endpoint): ImportedEndpoint => $endpoint->with($change($endpoint->endpoint))), $all);
    }

    /**
     * @return non-empty-list<Described>
     *
     * @throws \Symfony\Component\HttpKernel\Exception\HttpException 410 where an earlier version of the application has kept it
     */
    public function open(PendingImport $import): array
    {
        $classes = [Described::class, ImportedEndpoint::class, ImportNotice::class, EqualParts::class, \stdClass::class];
        $kept = unserialize((string) gzinflate((string) $this->vault->unseal($import->found)), ['allowed_classes' => $classes]);
        [$version, $all, $parts] = is_array($kept) ? $kept + [null, null, null] : [null, null, null];

        return $version === self::VERSION && is_array($all) && $all !== [] && $parts instanceof EqualParts ? self::each(array_values($all), $parts->put(...)) : abort(410, 'This was read by an earlier version of the application. Hand it in again.');
    }
}
