<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Pipeline\KeptPageInput;
use App\Pipeline\ReadPage;
use App\Pipeline\RowMaker;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowNodes;
use DeepSpring\Flatten\Type\Storage;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Looks for a row among the answers that are kept of its table's last complete run: they are read again by the
 * plan that made the row, which is found by its key, or by all of its values where the table has none.
 */
final readonly class RowOrigins
{
    public function __construct(private TableStore $store, private Vault $vault)
    {
    }

    /**
     * @param  array<string, string|null>  $row  as it is kept, by names of the database
     * @param  int  $after  a page that was looked at before
     * @param  float  $seconds  after which looking stops
     *
     * @throws KeepFailed when a kept answer is damaged or can no longer be read
     */
    public function find(KeptTable $table, array $row, int $after = 0, float $seconds = 6.0): RowOrigin
    {
        $run = $this->wholeRun($table);
        $endpoint = $run?->file()->endpoint($table->endpoint->slug);
        $plan = $endpoint?->plan($run->created_at->toDateTimeImmutable());
        $number = null;
        foreach ($plan?->tables() ?? [] as $place => $one) {
            $number = $one->name === $table->given_name ? $place : $number;
        }
        $kept = $this->store->pages($table->environment, "e$table->endpoint_id");
        $about = $kept->about();
        if ($endpoint === null || $plan === null || $number === null || $about === null) {
            return new RowOrigin($number === null ? null : $plan?->tables()[$number], $run, $about);
        }
        $wanted = $this->wanted($table, $plan, $number, $row);
        $until = microtime(true) + $seconds;
        $words = self::words($wanted);
        $rows = new RowMaker($plan, $this->inputs($endpoint), $this->vault->masks());
        $before = 0;
        $counts = self::needsPlace($wanted);
        foreach ((new KeptPageInput($kept, $endpoint))->read(static fn (int $page, string $body): bool => $counts || $page > $after && self::has($body, $words)) as $page) {
            $found = $page->number > $after ? $this->inPage($page, $rows, $number, $wanted, $before) : null;
            if ($found !== null) {
                return $this->origin($table, $endpoint, $plan, $number, $run, $about, $page, $found);
            }
            $before += count($page->records);
            if (microtime(true) > $until) {
                return new RowOrigin($plan->tables()[$number], $run, $about, unread: $page->number);
            }
        }

        return new RowOrigin($plan->tables()[$number], $run, $about);
    }

    /**
     * The run that read everything last: those after it read changes, and keep no answers.
     */
    private function wholeRun(KeptTable $table): ?Run
    {
        return Run::query()->where(['endpoint_id' => $table->endpoint_id, 'environment_id' => $table->environment_id, 'state' => RunState::Done])
            ->whereIn('kind', ['refresh', 'rebuild'])->whereNull('changes')->where('rows', '>', 0)->latest('id')->first();
    }

    /**
     * @return list<array<string, string>>
     */
    private function inputs(EndpointDefinition $endpoint): array
    {
        try {
            return array_map(static fn (array $set): array => InputSets::sent($endpoint->ask(), $set), $endpoint->keptWith()->sets);
        } catch (InvalidInput) {
            return [];
        }
    }

    /**
     * What tells the row apart.
     *
     * @param  array<string, string|null>  $row
     * @return array<int, array{Column, string|null}> by the place of the column in the plan
     */
    private function wanted(KeptTable $table, Plan $plan, int $number, array $row): array
    {
        $given = array_column($table->columns, 'given', 'name');
        $wanted = [];
        foreach ($plan->tables()[$number]->columns as $place => $column) {
            $name = array_search($column->name, $given, true);
            if ($name !== false && ($table->key === [] || in_array($name, $table->key, true))) {
                $wanted[$place] = [$column, $row[(string) $name] ?? null];
            }
        }

        return $wanted;
    }

    /**
     * Whether the row is told apart by its place in the whole reading, so that all records before it count.
     *
     * @param  array<int, array{Column, string|null}>  $wanted
     */
    private static function needsPlace(array $wanted): bool
    {
        return array_filter($wanted, static fn (array $one): bool => $one[0]->source === ColumnSource::Position) !== [];
    }

    /**
     * Texts that an answer has to have for the row to be in it: short ones of letters and digits, which every format
     * writes as they are.
     *
     * @param  array<int, array{Column, string|null}>  $wanted
     * @return list<string>
     */
    private static function words(array $wanted): array
    {
        $words = [];
        foreach ($wanted as [$column, $value]) {
            $isThere = in_array($column->source, [ColumnSource::From, ColumnSource::Parent], true) && $column->single && $column->isPlain();
            if ($isThere && in_array($column->type->storage(), [Storage::Text, Storage::Integer, Storage::FixedText], true) && preg_match('/^[A-Za-z0-9_.-]+$/D', (string) $value) === 1) {
                $words[] = (string) $value;
            }
        }

        return $words;
    }

    /**
     * @param  list<string>  $words
     */
    private static function has(string $body, array $words): bool
    {
        foreach ($words as $word) {
            if (stripos($body, $word) === false) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param  array<int, array{Column, string|null}>  $wanted
     * @return array{int, int, int, list<string|null>}|null place of the record, of the row among those it became, how many these are, and the row
     */
    private function inPage(ReadPage $page, RowMaker $rows, int $number, array $wanted, int $before): ?array
    {
        if ($this->match($rows->of($page, $before)->rows[$number] ?? [], $wanted) === null) {
            return null;
        }
        foreach (array_keys($page->records) as $index) {
            $made = $rows->of($page->only($index), $before + $index)->rows[$number] ?? [];
            $row = $this->match($made, $wanted);
            if ($row !== null) {
                return [$index, $row, count($made), $made[$row]];
            }
        }

        return null;
    }

    /**
     * @param  list<list<string|null>>  $rows
     * @param  array<int, array{Column, string|null}>  $wanted
     */
    private function match(array $rows, array $wanted): ?int
    {
        foreach ($rows as $number => $row) {
            foreach ($wanted as $place => [$column, $value]) {
                if (! self::areSame($column, $value, $row[$place] ?? null)) {
                    continue 2;
                }
            }

            return $number;
        }

        return null;
    }

    /**
     * Whether what is kept is what was made: the database fills fractions with zeros.
     */
    public static function areSame(Column $column, ?string $kept, ?string $made): bool
    {
        if ($kept === null || $made === null) {
            return $kept === $made;
        }
        $bare = static fn (string $value): string => str_contains($value, '.') ? rtrim(rtrim($value, '0'), '.') : $value;

        return $kept === $made || match ($column->isPlain() ? $column->type->storage() : Storage::Text) {
            Storage::Decimal => is_numeric($made) && bccomp($kept, $made, 38) === 0,
            Storage::Float => (float) $kept === (float) $made,
            Storage::DateTime, Storage::Time => $bare(strtr($kept, 'T', ' ')) === $bare(strtr($made, 'T', ' ')),
            Storage::Boolean, Storage::Integer => (int) $kept === (int) $made && is_numeric($made),
            default => false,
        };
    }

    private function asked(Run $run, int $page): ?string
    {
        $line = RunEvent::query()->where(['run_id' => $run->id, 'page' => $page, 'kind' => 'page'])->latest('id')->value('text');
        $parts = is_string($line) ? explode(RunRecorder::ASKED, $line, 2) : [];

        return $parts[1] ?? null;
    }

    /**
     * @param  array{pages: int, bytes: int, kept_at: string}  $about
     * @param  array{int, int, int, list<string|null>}  $found
     */
    private function origin(KeptTable $table, EndpointDefinition $endpoint, Plan $plan, int $number, Run $run, array $about, ReadPage $page, array $found): RowOrigin
    {
        [$index, $row, $rows, $made] = $found;
        $place = $endpoint->answer()->recordPlaces($page->document)[$index] ?? null;
        $exchange = Exchange::query()->select(Exchange::LIGHT)->where(['run_id' => $run->id, 'number' => $page->number, 'purpose' => 'request'])->latest('id')->first();

        return new RowOrigin($plan->tables()[$number], $run, $about, $page->number, null, $page->page?->written()[$index] ?? $page->records[$index], $place, $made, RowNodes::of($plan, $number, $page->records[$index], $row, $rows), $exchange, $page->document, $this->asked($run, $page->number));
    }
}
