<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Imports\Uploads;
use App\Models\Source;
use App\Runs\Runs;
use DeepSpring\Describe\CannotDescribe;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;
use Illuminate\Validation\ValidationException;

/**
 * Another file in the place of one that was handed in; what is kept of it is read again.
 */
final class UploadController extends Controller
{
    public function __invoke(Request $request, Source $source, Uploads $uploads, Runs $runs): RedirectResponse
    {
        $this->authorize('update', $source);
        $row = $source->endpoints()->where('slug', Uploads::ENDPOINT)->first();
        $upload = Uploads::of($source, $this->environment()) ?? abort(404);
        $file = $request->file('file');
        if (! $file instanceof UploadedFile || ! $file->isValid()) {
            throw ValidationException::withMessages(['file' => 'Choose a file: CSV or XLSX, of at most 64 MB.']);
        }
        try {
            $uploads->put($this->environment(), (string) $file->getRealPath(), $file->getClientOriginalName(), $this->person(), instead: $upload);
        } catch (CannotDescribe $cannot) {
            throw ValidationException::withMessages(['file' => array_map(ucfirst(...), $cannot->sentences)]);
        }
        $told = trim("{$upload->file_name} is what is read from now on. ".implode(' ', $uploads->told));
        if ($row !== null && $source->published()?->endpoint($row->slug) !== null && $row->tables()->where('environment_id', $this->environment()->id)->exists()) {
            return redirect()->route('runs.show', $runs->queue($row, $this->environment(), $this->person()))->with('notice', $told);
        }

        return back()->with('notice', $told);
    }
}
