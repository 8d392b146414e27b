<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Http\Controller;
use App\Models\TableProfile;
use App\Reservoir\KeepFailed;
use App\Runs\ProfileBook;
use App\View\ColumnHistory;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * What the columns of a kept table are like.
 */
final class ProfileController extends Controller
{
    use FindsTable;

    public function show(string $name): View
    {
        $table = $this->table($name);

        return view('tables.profile', ['table' => $table, 'columns' => ColumnHistory::of($table), 'last' => TableProfile::of($table)->first()]);
    }

    public function take(string $name, ProfileBook $book): RedirectResponse
    {
        try {
            $book->take($this->table($name));
        } catch (KeepFailed $failed) {
            throw ValidationException::withMessages(['profile' => $failed->getMessage()])->redirectTo(route('tables.profile', $name));
        }

        return redirect()->route('tables.profile', $name);
    }
}
