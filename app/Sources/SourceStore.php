<?php

declare(strict_types=1);

namespace App\Sources;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Endpoint;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Models\User;
use App\Runs\Concealment;
use App\Runs\KeptTables;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptColumns;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Support\Facades\DB;

/**
 * Where source files are kept: one draft, and numbered versions that never change, but for samples of
 * what is masked later. The rows of
 * `endpoints` follow the document by slug, so that what hangs on an endpoint survives an edit.
 */
final class SourceStore
{
    /** Of a transaction that the database ended because it stood in the way of another. */
    private const ATTEMPTS = 4;

    /** Rows that are written or deleted with one statement. */
    private const AT_ONCE = 1000;

    public function __construct(private readonly AuditLog $log, private readonly KnownModels $models, private readonly Concealment $concealment, private readonly KeptTables $tables)
    {
    }

    /**
     * Stores a file under its slug as the draft of a new source, or of the one that has that slug.
     *
     * @param  SourceFile|null  $was  the document in hand before, when it is known
     * @param  bool  $wasPublished  whether it was a version before, and stays as it was
     *
     * @throws InvalidSourceFile when it asks an OData service for what its version has no words for
     */
    public function draft(SourceFile $file, ?User $by, ?Source $source = null, string $page = '', ?SourceFile $was = null, bool $wasPublished = false): Source
    {
        return DB::transaction(function () use ($file, $by, $source, $page, $was, $wasPublished): Source {
            $source ??= Source::query()->where('slug', $file->slug())->lockForUpdate()->first() ?? new Source(['owner_id' => $by?->id]);
            $before = $was->document ?? ($source->exists ? $source->current()->document : null);
            $file = $this->withMaskedSamples($this->chosen($source, $file, $before ?? []));
            $faults = ! $wasPublished && Chosen::isOData($file->document) ? Chosen::unsayable($file->document, $before ?? [], $source->exists ? $this->models->of($source) : null) : [];
            if ($faults !== []) {
                throw InvalidSourceFile::because($faults);
            }
            $source->fill(['slug' => $file->slug(), 'name' => $file->source()->name])->save();
            $this->followEndpoints($source, $file);
            $this->concealEarlier($source, $before ?? [], $file);
            if ($before !== null) {
                RecentEditors::note($source, $before, $file->document, $by, $page);
            }
            if ($source->published()?->says($file) === true) {
                $source->documents()->where('version', null)->delete();
            } else {
                // Without reading it: a document can be large.
                $draft = $source->documents()->where('version', null)->value('id');
                $columns = SourceDocument::columns($file) + ['author_id' => $by?->id];
                $draft === null ? $source->documents()->create(['version' => null] + $columns) : SourceDocument::query()->whereKey($draft)->update($columns);
            }

            return $source;
        }, self::ATTEMPTS);
    }

    /**
     * What follows from what is chosen of a service, by what it says of itself.
     *
     * @param  array<string, mixed>  $before
     */
    private function chosen(Source $source, SourceFile $file, array $before): SourceFile
    {
        if (! $source->exists || ! Chosen::isOData($file->document)) {
            return $file;
        }

        return SourceFile::trusted(JsonSubtrees::normal(Chosen::filled($file->document, $before, fn (): ?Model => $this->models->of($source))));
    }

    private function withMaskedSamples(SourceFile $file): SourceFile
    {
        $document = $file->document;
        $isMasked = false;
        foreach ($document['endpoints'] ?? [] as $number => $endpoint) {
            if (isset($endpoint['answer']['sample']) && Concealment::masked($endpoint) !== []) {
                $document['endpoints'][$number] = $this->concealment->sample($endpoint);
                $isMasked = true;
            }
        }

        return $isMasked ? SourceFile::trusted($document) : $file;
    }

    /**
     * What was written before some column was masked.
     *
     * @param  array<string, mixed>  $before
     */
    private function concealEarlier(Source $source, array $before, SourceFile $file): void
    {
        $were = array_column($before['endpoints'] ?? [], null, 'slug');
        foreach ($file->document['endpoints'] ?? [] as $endpoint) {
            $masked = Concealment::masked($endpoint);
            if ($masked === [] || array_diff($masked, isset($were[$endpoint['slug']]) ? Concealment::masked($were[$endpoint['slug']]) : []) === []) {
                continue;
            }
            $row = $source->endpoints()->where('slug', $endpoint['slug'])->first();
            $definition = $file->endpoint($endpoint['slug']);
            if ($row !== null && $definition !== null) {
                DB::afterCommit(fn () => $this->concealment->earlier($row, $definition));
            }
        }
    }

    /**
     * Changes the document in hand, with the source locked, so that of two changes at the same time
     * neither is lost.
     *
     * @param  \Closure(array<string, mixed>): (array<string, mixed>|null)  $change  null for none
     * @param  string  $page  token of the open sheet that it comes from
     *
     * @throws InvalidSourceFile
     */
    public function edit(Source $source, ?User $by, \Closure $change, string $page = ''): SourceFile
    {
        return DB::transaction(function () use ($source, $by, $change, $page): SourceFile {
            Source::query()->lockForUpdate()->findOrFail($source->id);
            $file = $source->refresh()->current();
            $document = $change($file->document);
            if ($document === null) {
                return $file;
            }
            $changed = $this->chosen($source, $file->changed(KeptColumns::following($file->document, $document)), $file->document);
            $this->draft($changed, $by, $source, $page, $file);

            return $changed;
        }, self::ATTEMPTS);
    }

    /**
     * Makes the draft the next version. Without a draft nothing changes.
     *
     * @return int the version in use
     */
    public function publish(Source $source, ?User $by): int
    {
        return DB::transaction(function () use ($source, $by): int {
            Source::query()->lockForUpdate()->findOrFail($source->id);
            $source->refresh();
            $draft = $source->draft();
            if ($draft === null) {
                return $source->published_version ?? throw new \LogicException("The source {$source->slug} has no document.");
            }
            $version = (int) $source->documents()->max('version') + 1;
            $this->noteChanges($source, $draft->file(), $version, $by);
            $draft->fill(['version' => $version, 'author_id' => $by?->id])->save();
            $source->fill(['published_version' => $version])->save();
            $this->tables->describe($source);
            $this->noteStanding($source, $draft->file());

            return $version;
        });
    }

    /**
     * Which lists a query can ask for, so that looking for them opens no document.
     */
    private function noteStanding(Source $source, SourceFile $file): void
    {
        $standing = [];
        foreach ($file->document['endpoints'] ?? [] as $endpoint) {
            if (array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => isset($input['stands_for'])) !== []) {
                $standing[] = (string) $endpoint['slug'];
            }
        }
        $source->endpoints()->where('stands', true)->whereNotIn('slug', $standing)->update(['stands' => false]);
        $standing === [] || $source->endpoints()->whereIn('slug', $standing)->update(['stands' => true]);
    }

    /**
     * What of a version matters to whoever answers for where requests go.
     */
    private function noteChanges(Source $source, SourceFile $new, int $version, ?User $by): void
    {
        $old = $source->published();
        $this->log->note($old === null ? Action::SourceAdded : Action::Published, $source->slug, "version $version", $by);
        if ($old === null) {
            return;
        }
        foreach (array_unique([...$old->source()->environments(), ...$new->source()->environments()]) as $environment) {
            [$from, $to] = [$old->source()->base($environment), $new->source()->base($environment)];
            if ($from !== $to) {
                $this->log->note(Action::AddressChanged, "$source->slug, $environment", ($from ?? 'none').' → '.($to ?? 'none'), $by);
            }
        }
        if ($old->source()->accessEntries() !== $new->source()->accessEntries()) {
            $schemes = static fn (SourceFile $file): string => implode(', ', array_column($file->source()->accessEntries(), 'scheme')) ?: 'none';
            $this->log->note(Action::AccessChanged, $source->slug, "{$schemes($old)} → {$schemes($new)}", $by);
        }
    }

    /**
     * Puts a published version into the draft.
     */
    public function restore(Source $source, int $version, ?User $by): void
    {
        DB::transaction(function () use ($source, $version, $by): void {
            Source::query()->lockForUpdate()->findOrFail($source->id);
            $file = $source->refresh()->documents()->where('version', $version)->firstOrFail()->file();
            $this->draft($file, $by, $source, wasPublished: true);
        }, self::ATTEMPTS);
    }

    /**
     * Throws the draft away; what is published stands again.
     */
    public function discardDraft(Source $source): void
    {
        DB::transaction(function () use ($source): void {
            Source::query()->lockForUpdate()->findOrFail($source->id);
            $published = $source->refresh()->published();
            if ($published !== null) {
                $source->documents()->where('version', null)->delete();
                $source->fill(['name' => $published->source()->name])->save();
                $this->followEndpoints($source, $published);
            }
        }, self::ATTEMPTS);
    }

    private function followEndpoints(Source $source, SourceFile $file): void
    {
        $rows = Endpoint::query()->where('source_id', $source->id)->get(['id', 'slug', 'name'])->keyBy('slug');
        $new = [];
        foreach ($file->endpoints() as $endpoint) {
            $row = $rows->pull($endpoint->slug);
            if ($row === null) {
                $new[] = ['source_id' => $source->id, 'slug' => $endpoint->slug, 'name' => $endpoint->name, 'created_at' => now(), 'updated_at' => now()];
            } elseif ($row->name !== $endpoint->name) {
                $row->update(['name' => $endpoint->name]);
            }
        }
        foreach (array_chunk($new, self::AT_ONCE) as $some) {
            Endpoint::query()->insert($some);
        }
        // An endpoint with tables is kept for them, even when the document no longer has it.
        foreach ($rows->pluck('id')->chunk(self::AT_ONCE) as $gone) {
            Endpoint::query()->whereKey($gone->all())->whereDoesntHave('tables')->delete();
        }
    }
}
