<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\User;
use App\Outlets\CallFigures;
use App\Outlets\FeedForm;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\FeedReaders;
use App\Outlets\FeedRows;
use App\Outlets\FeedShape;
use App\Outlets\FeedState;
use DeepSpring\Feed\RowJson;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * The sheet of a feed: what is set on the left, what readers get on the right.
 */
final readonly class FeedSheet
{
    private const CALLS = 8;

    private const SAMPLE = 3;

    /** @var list<array{column: string, name: string, label: string, about: string, shown: bool, place: int}> all columns of the table, those that are shown first */
    public array $columns;

    /** @var Collection<int, FeedCall> the last ones */
    public Collection $calls;

    public CallFigures $figures;

    /** @var Collection<int, Consumer> */
    public Collection $consumers;

    /** @var list<int> ids of those that may read it */
    public array $readers;

    /** @var array<int, string> who can answer for it, and whoever does */
    public array $people;

    /** What a reader gets now. */
    public ?string $sample;

    public ?string $problem;

    public int $milliseconds;

    public ?FeedState $state;

    /** @var Collection<int, Feed> other versions */
    public Collection $versions;

    /** @var list<array{name: string, owner: string, requests: int, last: Carbon}> who still reads this version, where there is a newer one */
    public array $stayed;

    /** @var array<string, string> ways to rows of other feeds → in words */
    public array $ways;

    public function __construct(public Feed $feed, public ?KeptTable $table, FeedRows $rows, User $person)
    {
        $this->columns = self::columns($feed, $table);
        $this->calls = FeedCall::query()->with(['consumer', 'user'])->where('feed_id', $feed->id)->latest('id')->limit(self::CALLS)->get();
        $this->figures = CallFigures::of($feed);
        $this->consumers = Consumer::query()->with('keys')->orderBy('name')->get();
        $this->readers = array_map(intval(...), $feed->consumers()->pluck('consumers.id')->all());
        $this->people = User::query()->whereNull('off_at')->orWhere('id', $feed->user_id)->orderBy('name')->pluck('name', 'id')->all();
        $this->versions = Feed::query()->where('name', $feed->name)->whereKeyNot($feed->id)->orderBy('version')->get();
        $this->stayed = $this->versions->contains(static fn (Feed $one): bool => $one->is_on && $one->version > $feed->version) ? FeedReaders::of($feed) : [];
        $others = Feed::query()->whereKey(array_column($feed->links, 'feed'))->where('is_on', true)->get()->keyBy('id');
        $ways = [];
        foreach ($feed->links as $link) {
            $to = $others->get($link['feed']);
            $to === null || $ways[$link['name']] = ($link['many'] ? 'rows of ' : 'one row of ').$to->path().' with the same '.implode(', ', array_map(static fn (array $pair): string => $pair[0] === $pair[1] ? $pair[0] : "$pair[0] = $pair[1]", $link['on']));
        }
        $this->ways = $ways;
        $this->state = $table === null ? null : FeedState::of($feed, $table);
        $begun = hrtime(true);
        [$this->sample, $this->problem] = $this->sample($rows, $person);
        $this->milliseconds = (int) round((hrtime(true) - $begun) / 1e6);
    }

    /**
     * As whoever looks would get it, who may read it because it is for people, or because the table is open to them anyway.
     *
     * @return array{string|null, string|null} rows, and why there are none
     */
    private function sample(FeedRows $rows, User $person): array
    {
        if (! $this->feed->is_on || $this->table === null || $this->state === null) {
            return [null, null];
        }
        if (! $this->feed->for_people) {
            return [null, 'It is for keys alone, so nobody sees it here. Ask for it with a key.'];
        }
        $shape = FeedShape::of($this->feed, $this->table);
        try {
            $page = $rows->page($this->feed, $shape, $this->state, FeedQuestion::rest($this->feed, $shape, ['top' => (string) self::SAMPLE], now()->toDateTimeImmutable()), $person, self::SAMPLE);
        } catch (FeedProblem $problem) {
            return [null, $problem->getMessage()];
        }

        return ["{\"rows\":[\n ".implode(",\n ", array_map((new RowJson($page->columns))->object(...), $page->rows))."],\n \"next\":".($page->next === null ? 'null' : '"…"').'}', null];
    }

    /**
     * @return list<array{column: string, name: string, label: string, about: string, shown: bool, place: int}>
     */
    private static function columns(Feed $feed, ?KeptTable $table): array
    {
        $kept = $table === null ? [] : array_column($table->keptColumns(), null, 'name');
        $rows = [];
        foreach ($feed->columns as $place => $one) {
            $column = $kept[$one['column']] ?? null;
            $rows[] = ['column' => $one['column'], 'name' => $one['name'], 'label' => $column->label ?? 'gone', 'about' => $column?->about() ?? '', 'shown' => true, 'place' => $place + 1];
            unset($kept[$one['column']]);
        }
        foreach (array_values($kept) as $number => $column) {
            /** @var KeptColumn $column */
            $rows[] = ['column' => $column->name, 'name' => $column->name, 'label' => $column->label, 'about' => $column->about(), 'shown' => false, 'place' => count($feed->columns) + $number + 1];
        }

        return $rows;
    }

    /**
     * Addresses, by what they give.
     *
     * @return array<string, string>
     */
    public function addresses(): array
    {
        $base = route('feeds.version', ['version' => $this->feed->version, 'file' => $this->feed->name]);

        return ['REST' => $base, 'OData' => route('feeds.odata', ['version' => $this->feed->version])] + array_combine(
            array_map(static fn (FeedForm $form): string => strtoupper($form->value), [FeedForm::Csv, FeedForm::Xlsx, FeedForm::Ndjson]),
            array_map(static fn (FeedForm $form): string => "$base.$form->value", [FeedForm::Csv, FeedForm::Xlsx, FeedForm::Ndjson]),
        );
    }
}
