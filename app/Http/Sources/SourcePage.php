<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Controller;
use App\Imports\Uploads;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\Source;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;

/**
 * What answers with the sheet of a source.
 */
abstract class SourcePage extends Controller
{
    public function __construct(protected readonly SourceSheets $sheets)
    {
    }

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent, when it could not be saved
     */
    protected function sheet(Source $source, SourceFile $file, array $faults = [], ?array $form = null, ?string $view = null, ?string $trouble = null): View
    {
        $view ??= request()->hasHeader('HX-Request') ? 'sources.sheet' : 'sources.show';
        // What the sheet itself tells, by the last try, is not told twice.
        $notes = $view !== 'sources.show' ? null : Note::open($this->environment(), $this->person()->role)->where('source_id', $source->id)->whereNotIn('kind', [NoteKind::Source, NoteKind::Consent])->get();

        return view($view, [
            'source' => $source->refresh(), 'sheet' => $this->sheets->source($source, $file, $this->environment(), $this->person(), $faults, $form), 'trouble' => $trouble ?? session('trouble'), 'notes' => $notes, 'upload' => $view === 'sources.show' ? Uploads::of($source, $this->environment()) : null,
        ]);
    }
}
