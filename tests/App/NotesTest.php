<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\CheckResult;
use App\Models\Drift;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\QueryKeep;
use App\Models\Role;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use App\Notes\AsideTime;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use App\Notes\Causes\AgeingTables;
use App\Notes\NoteBook;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Process\Process;

/**
 * A note is raised once for one cause, and closes when that is gone.
 */
final class NotesTest extends AppTestCase
{
    protected function tearDown(): void
    {
        $this->faults('stores', []);
        parent::tearDown();
    }

    private function look(): void
    {
        app(NoteBook::class)->align($this->trial());
    }

    /**
     * @return list<string> kind, whether it is open, title
     */
    private function notes(): array
    {
        return array_values(Note::query()->orderBy('id')->get()->map(static fn (Note $note): string => $note->kind->value.($note->isOpen() ? ' open ' : ' over ').$note->title)->all());
    }

    public function test_a_refresh_that_goes_on_failing_is_one_note_and_is_over_when_it_succeeds(): void
    {
        $source = $this->source('stores');
        $this->refresh($source, 'positions');
        $this->look();
        self::assertSame([], $this->notes());
        $rows = KeptTable::query()->firstOrFail()->rows;
        $this->faults('stores', ['page_as' => 'p']);
        $first = $this->refresh($source, 'positions');
        $this->look();
        $this->look();
        $second = $this->refresh($source, 'positions');
        $this->look();
        self::assertSame(['refresh open Shelf positions'], $this->notes());
        $note = Note::query()->firstOrFail();
        self::assertEquals($first->ended_at, $note->since, 'since the first one');
        self::assertSame("/runs/{$second->id}", $note->link, 'the last one is looked at');
        self::assertSame($second->diagnosis['what'] ?? null, $note->sentence);
        self::assertSame('Readers see the '.$rows.' rows of '.KeptTable::query()->firstOrFail()->refreshed_at->format('Y-m-d H:i').' UTC.', $note->meanwhile);
        $this->faults('stores', []);
        $this->refresh($source, 'positions');
        $this->look();
        self::assertSame(['refresh over Shelf positions'], $this->notes());
        $this->faults('stores', ['page_as' => 'p']);
        $this->refresh($source, 'positions');
        $this->look();
        self::assertSame(['refresh over Shelf positions', 'refresh open Shelf positions'], $this->notes());
    }

    public function test_while_a_refresh_runs_again_its_note_stays(): void
    {
        $run = $this->failedRun();
        $this->look();
        Run::query()->create(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id, 'version' => 1, 'state' => 'running']);
        $this->look();
        self::assertSame(['refresh open Shelf positions'], $this->notes());
    }

    private function failedRun(): Run
    {
        $endpoint = $this->endpoint($this->source('stores'), 'positions');

        return Run::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'version' => 1, 'state' => 'failed', 'ended_at' => now(), 'diagnosis' => ['code' => 'x', 'what' => 'It broke.', 'advice' => 'Mend it.', 'where' => 'ask']]);
    }

    /**
     * Everything a note is raised for: how it comes about, and how it goes.
     *
     * @return iterable<string, array{NoteKind, \Closure(self, Endpoint): void, \Closure(Endpoint): void, string, bool}> kind, raise, end, part of its sentence, whether those see it who only read
     */
    public static function causes(): iterable
    {
        $try = static fn (Endpoint $endpoint, bool $succeeded, string $code = 'refused'): Tryout => Tryout::query()->create(['source_id' => $endpoint->source_id, 'environment_id' => Environment::named('trial')?->id, 'succeeded' => $succeeded, 'milliseconds' => 1, 'records' => 0, 'strata' => [], 'diagnosis' => $succeeded ? null : ['code' => $code, 'what' => "It was $code.", 'advice' => 'Look.']]);
        $table = static fn (Endpoint $endpoint): KeptTable => KeptTable::query()->where('endpoint_id', $endpoint->id)->firstOrFail();
        yield 'a refused source' => [NoteKind::Source, static fn (self $test, Endpoint $endpoint) => $try($endpoint, false), static fn (Endpoint $endpoint) => $try($endpoint, true), 'It was refused.', false];
        yield 'a consent' => [NoteKind::Consent, static fn (self $test, Endpoint $endpoint) => $try($endpoint, false, 'consent'), static fn (Endpoint $endpoint) => $try($endpoint, true), 'It was consent.', false];
        yield 'a paused source' => [NoteKind::Paused, static fn (self $test, Endpoint $endpoint) => DB::table('paces')->updateOrInsert(['source_id' => $endpoint->source_id, 'environment_id' => Environment::named('trial')?->id], ['state' => '{}', 'breaker' => 'open', 'updated_at' => now()]), static fn (Endpoint $endpoint) => DB::table('paces')->update(['breaker' => 'closed']), 'It has failed for long', true];
        yield 'a secret that ends' => [NoteKind::Secret, static fn (self $test, Endpoint $endpoint) => Secret::query()->where('source_id', $endpoint->source_id)->update(['ends_on' => now()->addDays(3)]), static fn (Endpoint $endpoint) => Secret::query()->update(['ends_on' => now()->addDays(300)]), 'ends on', false];
        yield 'a drift' => [NoteKind::Drift, static fn (self $test, Endpoint $endpoint) => Drift::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => Environment::named('trial')?->id, 'kind' => 'emptied', 'table' => 'positions', 'path' => '$.x', 'sentence' => 'It is empty now.', 'examples' => []]), static fn (Endpoint $endpoint) => Drift::query()->update(['answer' => 'ignore', 'answered_at' => now()]), 'It is empty now.', false];
        yield 'a doubt' => [NoteKind::Doubt, static fn (self $test, Endpoint $endpoint) => Run::query()->whereKey($table($endpoint)->run_id)->update(['findings' => json_encode([['code' => 'total', 'sentence' => 'Ten are missing.', 'doubt' => true], ['code' => 'check', 'sentence' => 'Said elsewhere.', 'doubt' => true]])]), static fn (Endpoint $endpoint) => Run::query()->update(['findings' => null]), 'Ten are missing.', true];
        yield 'a broken check' => [NoteKind::Check, static fn (self $test, Endpoint $endpoint) => CheckResult::query()->create(['run_id' => $table($endpoint)->run_id, 'endpoint_id' => $endpoint->id, 'environment_id' => Environment::named('trial')?->id, 'table' => 'positions', 'mark' => str_repeat('a', 16), 'words' => 'x', 'acts' => 'note', 'outcome' => 'broken', 'broken' => 3, 'rows' => 9, 'sentence' => '3 of 9 rows break it.', 'at' => now()]), static fn (Endpoint $endpoint) => CheckResult::query()->update(['outcome' => 'held']), '3 of 9 rows break it.', true];
        yield 'a broken view' => [NoteKind::View, static fn (self $test, Endpoint $endpoint) => QueryKeep::query()->create(['query_id' => SavedQuery::query()->create(['name' => 'Shelves', 'sql' => 'select 1', 'user_id' => $test->person()->id])->id, 'environment_id' => Environment::named('trial')?->id, 'source_id' => $endpoint->source_id, 'is_view' => true, 'name' => 'positions', 'version' => 1, 'reads' => [], 'fault' => 'A column is gone.']), static fn (Endpoint $endpoint) => QueryKeep::query()->update(['fault' => null]), 'A column is gone.', true];
        yield 'an ageing table' => [NoteKind::Ageing, static fn (self $test, Endpoint $endpoint) => KeptTable::query()->update(['refreshed_at' => now()->subHours(AgeingTables::HOURS + 1)]), static fn (Endpoint $endpoint) => KeptTable::query()->update(['refreshed_at' => now()]), 'Last refreshed on', true];
    }

    /**
     * @param  \Closure(self, Endpoint): mixed  $raise
     * @param  \Closure(Endpoint): mixed  $end
     */
    #[DataProvider('causes')]
    public function test_each_cause_is_told_where_it_concerns_and_ends(NoteKind $kind, \Closure $raise, \Closure $end, string $sentence, bool $isForReaders): void
    {
        $source = $this->source('stores');
        $this->refresh($source, 'positions');
        $endpoint = $this->endpoint($source, 'positions');
        $this->look();
        self::assertSame([], $this->notes());
        $raise($this, $endpoint);
        $this->look();
        $this->look();
        $note = Note::query()->sole();
        self::assertSame([$kind, true, $source->id, $kind->isFailure()], [$note->kind, $note->isOpen(), $note->source_id, $note->is_failure]);
        self::assertStringContainsString($sentence, $note->sentence);
        self::assertLessThanOrEqual(now()->addMinute(), $note->since);
        // Where it is told, and to whom.
        $builder = $this->person();
        foreach (["/notes/{$note->id}", '/notes', '/'] as $page) {
            $this->actingAs($builder)->get($page)->assertOk()->assertSee($note->sentence);
        }
        $this->get($note->link)->assertOk();
        if (! in_array($kind, [NoteKind::Source, NoteKind::Consent], true)) {
            $this->get("/sources/{$source->slug}")->assertOk()->assertSee("/notes/{$note->id}", false);
        }
        $this->actingAs($this->person(Role::Analyst));
        foreach (['/notes', '/'] as $page) {
            $isForReaders ? $this->get($page)->assertOk()->assertSee((string) $note->reader_sentence) : $this->get($page)->assertOk()->assertDontSee($sentence);
        }
        $this->get("/notes/{$note->id}")->assertStatus($isForReaders ? 200 : 404)->assertDontSee('What would help');
        $end($endpoint);
        $this->look();
        self::assertFalse($note->refresh()->isOpen());
        self::assertSame(1, Note::query()->count());
        $this->actingAs($builder)->get('/notes')->assertSee('Nothing is wrong in Trial');
        $this->get('/notes?state=closed')->assertSee($note->title);
    }

    public function test_many_who_look_at_the_same_time_raise_it_once(): void
    {
        $this->failedRun();
        KeptTable::query()->create(['endpoint_id' => Endpoint::query()->firstOrFail()->id, 'environment_id' => $this->trial()->id, 'name' => 'old', 'is_branch' => false, 'given_name' => 'old', 'columns' => [], 'key' => [], 'rows' => 0, 'refreshed_at' => now()->subDays(3)]);
        $all = array_map(static fn (): Process => new Process([PHP_BINARY, 'artisan', 'spring:notes'], base_path()), range(1, 5));
        foreach ($all as $process) {
            $process->start();
        }
        foreach ($all as $process) {
            self::assertSame(0, $process->wait(), $process->getErrorOutput());
        }
        self::assertEqualsCanonicalizing(['refresh open Shelf positions', 'ageing open old'], $this->notes());
    }

    public function test_what_cannot_be_looked_at_stays_as_it_was_and_the_rest_is_told(): void
    {
        $this->failedRun();
        $this->look();
        $broken = new class implements CauseFinder
        {
            public function kinds(): array
            {
                return [NoteKind::Refresh];
            }

            public function find(Environment $environment): array
            {
                throw new \RuntimeException('The table is being repaired.');
            }
        };
        $other = new class implements CauseFinder
        {
            public function kinds(): array
            {
                return [NoteKind::Drift];
            }

            public function find(Environment $environment): array
            {
                return [new Cause(NoteKind::Drift, 'e1', 'loans', 'Something new.', '/tables/loans', Carbon::now())];
            }
        };
        (new NoteBook([$broken, $other]))->align($this->trial());
        self::assertSame(['refresh open Shelf positions', 'drift open loans'], $this->notes());
    }

    public function test_one_that_is_put_aside_leaves_the_lists_until_its_time(): void
    {
        $this->failedRun();
        $this->look();
        $note = Note::query()->sole();
        $this->actingAs($this->person());
        $this->post("/notes/{$note->id}/aside", ['until' => 'hour'])->assertRedirect('/notes');
        $this->get('/')->assertOk()->assertDontSee('It broke.');
        $this->get('/notes')->assertSee('Nothing is wrong');
        $this->get('/notes?state=aside')->assertSee('It broke.')->assertSee('put aside');
        $this->get("/notes/{$note->id}")->assertSee('put aside')->assertSee('Take');
        $this->travel(61)->minutes();
        $this->get('/notes')->assertSee('It broke.');
        $this->post("/notes/{$note->id}/aside", ['until' => 'time', 'time' => '2020-01-01T10:00'])->assertRedirect("/notes/{$note->id}")->assertSessionHasErrors(['until' => 'That time is over already.']);
        $this->post("/notes/{$note->id}/aside", ['until' => 'week'])->assertRedirect();
        $this->post("/notes/{$note->id}/back")->assertRedirect();
        $this->get('/notes')->assertSee('It broke.');
        $this->actingAs($this->person(Role::Analyst))->post("/notes/{$note->id}/aside", ['until' => 'hour'])->assertForbidden();
    }

    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function times(): iterable
    {
        // It is Friday, 3 May 2030, 12:00 UTC, which is 14:00 in Oslo.
        yield 'an hour' => ['hour', '2030-05-03 13:00'];
        yield 'tomorrow' => ['tomorrow', '2030-05-04 06:00'];
        yield 'Monday' => ['monday', '2030-05-06 06:00'];
        yield 'a week' => ['week', '2030-05-10 12:00'];
        yield 'a time' => ['2030-05-03 14:01', '2030-05-03 12:01'];
        yield 'as a browser writes it' => ['2030-12-01T08:00', '2030-12-01 07:00'];
        yield 'now' => ['2030-05-03 14:00', null];
        yield 'in years' => ['2035-05-03 14:00', null];
        yield 'no day' => ['2030-02-30 14:00', null];
        yield 'no hour' => ['2030-06-30 25:00', null];
        yield 'words' => ['next year', null];
        yield 'nothing' => ['', null];
    }

    #[DataProvider('times')]
    public function test_until_when_it_is_put_aside(string $said, ?string $expected): void
    {
        try {
            $until = AsideTime::of($said, 'Europe/Oslo', Carbon::parse('2030-05-03 12:00', 'UTC'))->format('Y-m-d H:i');
        } catch (\InvalidArgumentException $refused) {
            $until = null;
            self::assertMatchesRegularExpression('/^(That time is over already|A note is put aside for a year at most|Say until when, like 2030-05-03 14:30)\.$/D', $refused->getMessage());
        }
        self::assertSame($expected, $until);
    }

    public function test_the_list_searches_sorts_and_pages(): void
    {
        $source = $this->source('stores');
        for ($number = 0; $number < 70; $number++) {
            Note::query()->create(['environment_id' => $this->trial()->id, 'source_id' => $number % 2 === 0 ? $source->id : null, 'kind' => $number % 10 === 0 ? 'source' : 'ageing', 'cause' => "c$number", 'open_cause' => "c$number", 'is_failure' => $number % 10 === 0, 'title' => sprintf('thing %02d', $number), 'sentence' => $number === 33 ? 'A 50% crate <b>' : 'Old.', 'link' => '/tables/x', 'since' => now()->subMinutes($number), 'raised_at' => now()->subMinutes($number)]);
        }
        // What is shown is what is there: the finders are silent.
        $this->app?->instance(NoteBook::class, new NoteBook([]));
        $this->actingAs($this->person());
        $this->get('/notes')->assertOk()->assertSee('1–30 of 70 notes')->assertSee('>Notes', false)->assertSee('70<span', false);
        $this->get('/notes?page=3')->assertSee('61–70 of 70 notes');
        $this->get('/notes?q='.urlencode('50% CRATE'))->assertSee('1–1 of 1 note')->assertSee('A 50% crate &lt;b&gt;', false);
        $this->get('/notes?q=%25')->assertSee('1–1 of 1 note');
        $this->get('/notes?kind=source')->assertSee('of 7 notes');
        $this->get('/notes?source=stores')->assertSee('of 35 notes');
        $this->get('/notes?sort=title')->assertSeeInOrder(['thing 00', 'thing 01', 'thing 02']);
        $this->get('/notes?sort=since')->assertSeeInOrder(['thing 69', 'thing 68']);
        $this->get('/notes')->assertSeeInOrder(['thing 00', 'thing 10', 'thing 60', 'thing 01']);
        $this->get('/notes?q=nothing-like-it')->assertSee('No note matches');
        $this->get('/notes?state[]=x&kind[]=y&sort[]=z&q[]=a')->assertOk();
        $this->actingAs($this->person(Role::Analyst))->get('/notes?q=crate')->assertOk()->assertSee('No note matches');
    }

    public function test_the_command_line_lists_and_answers_them(): void
    {
        $this->failedRun();
        self::assertSame(0, Artisan::call('spring:notes'));
        $line = Artisan::output();
        self::assertStringContainsString("trial\trefresh\topen\t", $line);
        self::assertStringContainsString("Shelf positions\tIt broke.", $line);
        $number = (int) $line;
        self::assertSame(0, Artisan::call('spring:notes', ['--aside' => (string) $number, '--until' => 'week']));
        Artisan::call('spring:notes');
        self::assertStringNotContainsString('It broke.', Artisan::output());
        Artisan::call('spring:notes', ['words' => 'BROKE', '--state' => 'all']);
        self::assertStringContainsString("\taside\t", Artisan::output());
        Artisan::call('spring:notes', ['--back' => (string) $number]);
        Artisan::call('spring:notes', ['--kind' => 'refresh', '--environment' => 'trial']);
        self::assertStringContainsString("\topen\t", Artisan::output());
        foreach ([['--kind' => 'weather'], ['--state' => 'ajar'], ['--aside' => '999999', '--until' => 'week'], ['--aside' => (string) $number, '--until' => 'soon'], ['--environment' => 'nowhere']] as $wrong) {
            self::assertSame(2, Artisan::call('spring:notes', $wrong), (string) json_encode($wrong));
        }
    }

    public function test_what_is_long_over_is_thinned(): void
    {
        foreach ([10, 200] as $days) {
            Note::query()->create(['environment_id' => $this->trial()->id, 'kind' => 'ageing', 'cause' => "c$days", 'is_failure' => false, 'title' => "over for $days", 'sentence' => 'x', 'link' => '/', 'since' => now(), 'raised_at' => now(), 'closed_at' => now()->subDays($days)]);
        }
        Artisan::call('spring:tidy');
        self::assertSame(['ageing over over for 10'], $this->notes());
    }

    public function test_what_is_deleted_leaves_no_note(): void
    {
        $this->failedRun();
        $this->look();
        Source::query()->firstOrFail()->delete();
        $this->look();
        self::assertSame([], $this->notes());
    }
}
