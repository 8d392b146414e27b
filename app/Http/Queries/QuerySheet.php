<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\QueryDraft;
use App\Models\QueryKeep;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Queries\Keeping\ReadingOrder;
use App\Queries\Live\LiveTable;
use App\View\Show;
use DeepSpring\Value\SafeNames;

/**
 * A query on the screen: what it says, what is kept of it, and what it can read.
 */
final readonly class QuerySheet
{
    /** @var list<KeptTable> */
    public array $tables;

    public ?QueryKeep $keep;

    /** Its table, once there are rows. */
    public ?KeptTable $kept;

    public ?Run $run;

    /** @var list<QueryKeep> other queries that read what is kept of it */
    public array $readers;

    /** A name for what is kept of it, to begin with. */
    public string $proposedName;

    /**
     * @param  array<string, LiveTable>  $live
     * @param  string  $sql  that stands in the editor
     * @param  array<string, list<string>>  $choices  what is offered for a parameter
     * @param  bool  $runs  whether it is run as the page opens
     */
    public function __construct(public ?SavedQuery $query, public string $sql, public Environment $environment, public array $live, public bool $mayChange, public AskedValues $asked, public array $choices, public ?QueryDraft $draft = null, public bool $runs = false)
    {
        $this->tables = array_values(KeptTable::query()->with('endpoint.source')->where('environment_id', $environment->id)->orderBy('name')->get()->all());
        $this->keep = $query === null ? null : QueryKeep::query()->with(['environment', 'source'])->where(['query_id' => $query->id, 'environment_id' => $environment->id])->first();
        $this->kept = $this->keep === null ? null : KeptTable::query()->where(['environment_id' => $environment->id, 'name' => $this->keep->name])->first();
        $this->run = $this->keep === null || $this->keep->is_view ? null : $this->keep->endpoint()->lastRun($environment);
        $this->readers = $this->keep === null ? [] : array_values((new ReadingOrder($environment))->keepsThatRead([$this->keep->name])->all());
        $this->proposedName = $query === null ? '' : SafeNames::clean($query->name);
    }

    public function title(): string
    {
        return $this->query->name ?? 'A new query';
    }

    /**
     * When rows of the table are read again, in words.
     */
    public function when(): string
    {
        $refresh = $this->keep?->source->published()?->endpoint(QueryKeep::ENDPOINT)->endpoint['keep']['refresh'] ?? [];

        return match (true) {
            ($refresh['after'] ?? []) !== [] => 'whenever '.implode(' or ', $refresh['after']).' was refreshed',
            isset($refresh['every']) && $refresh['every'] !== 'manual' => "at the times \"{$refresh['every']}\", ".($refresh['zone'] ?? 'UTC'),
            default => 'when somebody asks',
        };
    }

    /**
     * Columns of the table that tell its rows apart.
     *
     * @return list<string>
     */
    public function key(): array
    {
        return $this->keep?->source->published()?->endpoint(QueryKeep::ENDPOINT)->endpoint['flatten']['key'] ?? [];
    }

    public function saved(): string
    {
        return $this->query === null ? '' : "version {$this->query->version}, saved ".Show::ago($this->query->updated_at).' by '.$this->query->user->name;
    }

    public static function labels(?SavedQuery $query): string
    {
        return implode(', ', $query->labels ?? []);
    }
}
