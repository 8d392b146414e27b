<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\TableState;
use App\Queries\IndexAdvisor;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use DeepSpring\Sql\Examples;
use Illuminate\Contracts\View\View;

/**
 * Statements made from one of the tables that can be read.
 */
final class ExamplesController extends Controller
{
    public function __invoke(LiveTables $live, IndexAdvisor $advisor): View
    {
        $names = KeptTable::query()->where('environment_id', $this->environment()->id)->orderBy('name')->pluck('name')->map(strval(...))->all();
        $name = in_array($this->text('of'), $names, true) ? $this->text('of') : $names[0] ?? null;
        $table = $name === null ? null : KeptTable::query()->where(['environment_id' => $this->environment()->id, 'name' => $name])->firstOrFail();
        $examples = $table === null ? [] : Examples::of($table->name, array_column($table->columns, 'type', 'name'), $table->key, (new KnownTables($this->environment(), $live, $advisor))->ties($table->name),
            array_values(TableState::query()->where(['environment_id' => $this->environment()->id, 'table' => $table->name, 'ready' => true])->where('name', '!=', "{$table->name}__changes")->latest('id')->limit(3)->pluck('name')->map(strval(...))->all()));

        return view('queries.examples', ['names' => $names, 'name' => $name, 'examples' => $examples]);
    }
}
