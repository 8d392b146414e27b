<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Models\Source;
use Illuminate\Contracts\View\View;

/**
 * Sources, endpoints, tables and queries by a part of their name.
 */
final class FindController extends Controller
{
    private const MOST = 25;

    public function __invoke(): View
    {
        $search = $this->word('q');
        $like = '%'.addcslashes($search, '%_\\').'%';
        $fold = static fn (string $column): string => "$column collate utf8mb4_general_ci like ?";
        $found = [];
        if ($search !== '') {
            if ($this->person()->can('viewAny', Source::class)) {
                foreach (Source::query()->whereRaw($fold('name'), [$like])->orderBy('name')->limit(self::MOST)->get() as $source) {
                    $found[] = ['kind' => 'source', 'name' => $source->name, 'in' => '', 'url' => route('sources.show', $source)];
                }
                foreach (Endpoint::query()->with('source')->whereRaw($fold('name'), [$like])->orderBy('name')->limit(self::MOST)->get() as $endpoint) {
                    $found[] = ['kind' => 'endpoint', 'name' => $endpoint->name, 'in' => $endpoint->source->name, 'url' => route('endpoints.show', [$endpoint->source, $endpoint])];
                }
            }
            foreach (KeptTable::query()->where('environment_id', $this->environment()->id)->whereRaw($fold('name'), [$like])->orderBy('name')->limit(self::MOST)->get() as $table) {
                $found[] = ['kind' => 'table', 'name' => $table->name, 'in' => '', 'url' => route('tables.show', $table->name)];
            }
            foreach (SavedQuery::query()->whereRaw($fold('name'), [$like])->orderBy('name')->limit(self::MOST)->get() as $query) {
                $found[] = ['kind' => 'query', 'name' => $query->name, 'in' => '', 'url' => route('queries.show', $query)];
            }
        }

        return view('find', ['search' => $search, 'found' => $found]);
    }
}
