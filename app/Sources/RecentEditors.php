<?php

declare(strict_types=1);

namespace App\Sources;

use App\Models\Endpoint;
use App\Models\Source;
use App\Models\User;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Support\Facades\Cache;

/**
 * Who changed a source or an endpoint last, and from which open sheet; of whatever else changed it (an
 * import, a repair, the command line) there is no sheet. By it a sheet knows whether what differs from
 * what it saw is its own doing.
 */
final class RecentEditors
{
    private const SECONDS = 604_800;

    /**
     * @param  array<string, mixed>  $before  document
     * @param  array<string, mixed>  $after
     * @param  string  $page  token of the sheet; empty when it was none
     */
    public static function note(Source $source, array $before, array $after, ?User $by, string $page): void
    {
        $mark = ['page' => $page, 'who' => $by->name ?? 'Somebody', 'at' => time()];
        if (($before['source'] ?? null) !== ($after['source'] ?? null)) {
            Cache::put("hand.source.$source->id", $mark, self::SECONDS);
        }
        $was = array_column($before['endpoints'] ?? [], null, 'slug');
        $changed = [];
        foreach ($after['endpoints'] ?? [] as $endpoint) {
            $old = $was[$endpoint['slug']] ?? null;
            if ($old !== null && $old !== $endpoint && JsonSubtrees::canonical($old) !== JsonSubtrees::canonical($endpoint)) {
                $changed[] = $endpoint['slug'];
            }
        }
        foreach ($changed === [] ? [] : Endpoint::query()->where('source_id', $source->id)->whereIn('slug', $changed)->pluck('id') as $id) {
            Cache::put("hand.endpoint.$id", $mark, self::SECONDS);
        }
    }

    /**
     * @param  string  $thing  `source.ID` or `endpoint.ID`
     * @return array{page: string, who: string, at: int}|null
     */
    public static function of(string $thing): ?array
    {
        $last = Cache::get("hand.$thing");

        return is_array($last) ? ['page' => (string) $last['page'], 'who' => (string) $last['who'], 'at' => (int) $last['at']] : null;
    }
}
