<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Http\Controller;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableReader;
use App\Runs\RowOrigins;
use Illuminate\Contracts\View\View;

/**
 * Where a row of a kept table came from.
 */
final class OriginController extends Controller
{
    use FindsTable;

    public function __invoke(string $name, TableReader $reader, RowOrigins $origins): View
    {
        $table = $this->table($name);
        try {
            $row = $reader->row($table, $this->text('row')) ?? abort(404, "This row is no longer in $name: it was refreshed since.");
            $sheet = new OriginSheet($table, $origins->find($table, $row, (int) $this->text('after')), $row, $this->text('column'), $this->text('row'), $this->person()->can('view', $table->endpoint->source));
            $fault = null;
        } catch (KeepFailed $failed) {
            [$sheet, $fault] = [null, $failed->getMessage()];
        }

        return view('tables.origin', ['table' => $table, 'sheet' => $sheet, 'fault' => $fault]);
    }
}
