<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\QueryKeep;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Models\User;
use App\Queries\ColumnTexts;
use App\Runs\KeptTables;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\DB;

/**
 * What people say of the columns of a query that is kept.
 */
final readonly class QueryTexts
{
    private const TEXTS = ['title' => 1, 'unit' => 1, 'comment' => 1];

    public function __construct(private KeptTables $tables)
    {
    }

    /**
     * What people said of its columns stays; of the others, what is said where they come from.
     *
     * @param  list<array<string, mixed>>  $columns
     * @return list<array<string, mixed>>
     */
    public static function carried(array $columns, Source $source, QueryKeep $keep, SavedQuery $query): array
    {
        $said = array_column($source->published()?->endpoint(QueryKeep::ENDPOINT)->endpoint['flatten']['columns'] ?? [], null, 'name');
        $inherited = ColumnTexts::of($keep->environment, $query->sql);
        foreach ($columns as $place => $column) {
            $from = $inherited[$place] ?? null;
            $texts = isset($said[$column['name']]) ? array_intersect_key($said[$column['name']], self::TEXTS) : ($from === null ? [] : ['title' => $from->title, 'unit' => $from->unit, 'comment' => $from->comment]);
            $columns[$place] += array_filter($texts, static fn (string $one): bool => $one !== '');
        }

        return $columns;
    }

    /**
     * What the columns mean.
     *
     * @param  array<string, array{title: string, unit: string, comment: string}>  $texts  by the name of the column
     *
     * @throws CannotKeep where one is too long
     */
    public function write(QueryKeep $keep, array $texts, User $by): void
    {
        $source = $keep->source;
        $file = $source->published();
        $document = $file === null ? throw CannotKeep::because("$keep->name is being made.") : $file->document;
        $flatten = $document['endpoints'][0]['flatten'];
        foreach ($flatten['columns'] as $place => $column) {
            $said = $texts[$column['name']] ?? null;
            if ($said !== null) {
                $flatten['columns'][$place] = array_diff_key($column, self::TEXTS) + array_filter($said, static fn (string $one): bool => $one !== '');
            }
        }
        $document['endpoints'][0]['flatten'] = $flatten;
        try {
            $file = SourceFile::of($document);
        } catch (InvalidSourceFile $invalid) {
            throw CannotKeep::because(ucfirst($invalid->faults[0]->message).'.', 'texts', $invalid);
        }
        DB::transaction(function () use ($source, $file, $by): void {
            $version = ($source->published_version ?? 0) + 1;
            $source->documents()->create(['version' => $version, 'author_id' => $by->id] + SourceDocument::columns($file));
            $source->fill(['published_version' => $version])->save();
            $this->tables->describe($source);
        });
    }
}
