<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Role;
use App\Outlets\CannotPublish;
use App\Outlets\OutletsFile;
use App\Outlets\OutletsImport;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * All feeds and their readers as a file, which can be compared with what is here and taken over.
 */
final class OutletsFileController extends Controller
{
    public function show(): View
    {
        $now = OutletsFile::now();
        $typed = old('text');
        $changes = $fault = null;
        if (is_string($typed)) {
            try {
                $changes = OutletsFile::read($typed)->changes($now);
            } catch (CannotPublish $cannot) {
                $fault = $cannot->getMessage();
            }
        }

        return view('outlets.file', ['text' => is_string($typed) ? $typed : $now->text(), 'changes' => $changes, 'fault' => $fault ?? session('refused'), 'mayTake' => $this->person()->role === Role::Administrator]);
    }

    public function take(OutletsImport $import): RedirectResponse
    {
        $typed = request()->input('text');
        $text = is_string($typed) ? $typed : '';
        if ($this->text('then') !== 'take') {
            return redirect()->route('outlets.file')->withInput(['text' => $text]);
        }
        abort_unless($this->person()->role === Role::Administrator, 403, 'A file can hold feeds and readers of everybody, so administrators take it over.');
        try {
            $changes = $import->take(OutletsFile::read($text), $this->person(), $this->text('insist') === '1');
        } catch (CannotPublish $cannot) {
            return redirect()->route('outlets.file')->withInput(['text' => $text])->with('refused', $cannot->getMessage());
        }

        return redirect()->route('outlets.file')->with('notice', $changes === [] ? 'Nothing differed.' : 'Taken over: '.implode(' ', array_slice($changes, 0, 8)).(count($changes) > 8 ? ' …' : ''));
    }
}
