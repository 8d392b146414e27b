<?php

declare(strict_types=1);

namespace App\Http\Find;

use App\Models\Endpoint;
use App\Models\Source;
use App\Models\User;

/**
 * The screens there are and what can be done, for whoever may.
 */
final class Screens
{
    /** route → name, other words for it */
    private const ALL = [
        'watershed' => ['Watershed', 'start home map lineage'],
        'tables.index' => ['Tables', 'kept data rows'],
        'queries.index' => ['Queries', 'sql saved history'],
        'outlets.index' => ['Outlets', 'feeds publish keys readers odata api'],
        'notes.index' => ['Notes', 'alerts warnings failures what is wrong'],
        'notes.following' => ['What you follow', 'mail webhook notify alerts subscribe'],
        'account' => ['Your account', 'password second factor time zone sessions settings'],
    ];

    private const BUILDERS = [
        'sources.index' => ['Sources', 'apis connections'],
        'runs.index' => ['Runs', 'refreshes jobs log failures'],
        'schedule.index' => ['Schedule', 'refreshes times cron calendar when'],
        'environments.index' => ['Environments', 'production trial settings'],
    ];

    private const ADMINISTRATORS = [
        'people.index' => ['People', 'users invitations roles settings'],
        'people.log' => ['Who did what', 'audit log'],
        'outbound.index' => ['Outbound', 'allowed hosts private addresses settings'],
    ];

    /**
     * @return list<array{FoundItem, string}> with other words by which they are looked for
     */
    public static function of(User $person): array
    {
        $mayBuild = $person->role->mayBuild();
        $found = [];
        foreach ([...self::ALL, ...($mayBuild ? self::BUILDERS : []), ...($person->can('administer') ? self::ADMINISTRATORS : [])] as $route => [$name, $words]) {
            if (\Illuminate\Support\Facades\Route::has($route)) {
                $found[] = [new FoundItem('screen', $name, '', route($route)), $words];
            }
        }

        return $found;
    }

    /**
     * @param  string  $here  path of the screen that is open
     * @return list<array{FoundItem, string}>
     */
    public static function actions(User $person, string $here): array
    {
        $found = [[new FoundItem('action', 'Write a query', '', route('queries.create')), 'new sql']];
        if (! $person->role->mayBuild()) {
            return $found;
        }
        $found[] = [new FoundItem('action', 'Add a source', '', route('sources.create')), 'new api connect import openapi curl har'];

        return [...self::here($here), ...$found];
    }

    /**
     * What can be done with the source or endpoint of the screen that is open.
     *
     * @return list<array{FoundItem, string}>
     */
    private static function here(string $path): array
    {
        if (preg_match('~^/sources/([a-z0-9-]+)(?:/endpoints/([a-z0-9-]+))?~', $path, $part) !== 1) {
            return [];
        }
        $source = Source::query()->where('slug', $part[1])->first();
        if ($source === null) {
            return [];
        }
        $found = [
            [new FoundItem('action', 'Add endpoints', $source->name, route('endpoints.create', $source)), 'new import'],
            [new FoundItem('action', 'Source file', $source->name, route('sources.file', $source)), 'yaml export'],
            [new FoundItem('action', 'Versions', $source->name, route('sources.versions', $source)), 'history compare bring back'],
        ];
        $endpoint = isset($part[2]) ? Endpoint::query()->where('source_id', $source->id)->where('slug', $part[2])->first() : null;
        if ($endpoint !== null) {
            $found[] = [new FoundItem('action', 'All tries', $endpoint->name, route('endpoints.tries', [$source, $endpoint])), 'evidence history'];
            $found[] = [new FoundItem('action', 'Shape the records', $endpoint->name, route('endpoints.shape', [$source, $endpoint])), 'flatten columns'];
            $found[] = [new FoundItem('action', 'Compare environments', $endpoint->name, route('endpoints.compare', [$source, $endpoint])), 'trial production'];
        }

        return $found;
    }
}
