<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Source;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Sources\SourceStore;
use Illuminate\Support\Facades\DB;

/**
 * What a table is read with is said under Keep, and test values are for trying only.
 */
final class KeptInputsTest extends AppTestCase
{
    public function test_a_value_to_try_with_cuts_no_table(): void
    {
        $source = $this->loans(['try' => 'open'], null);
        self::assertSame([RunState::Done, 1200], [($run = $this->refresh($source, 'loans'))->state, $run->rows], (string) json_encode($run->diagnosis));
        self::assertStringContainsString('all of it', (string) RunEvent::query()->where('run_id', $run->id)->where('kind', 'begins')->value('text'));
    }

    public function test_a_table_is_read_with_what_stands_under_keep(): void
    {
        $run = $this->refresh($this->loans([], ['status' => 'open']), 'loans');
        $open = (int) $this->rows('select count(*) n from loans')[0]->n;
        self::assertSame([RunState::Done, $open, 0], [$run->state, $run->rows, (int) $this->rows("select count(*) n from loans where status <> 'open'")[0]->n]);
        self::assertGreaterThan(0, $open);
        self::assertLessThan(1200, $open);
        self::assertStringContainsString('only status = open', (string) RunEvent::query()->where('run_id', $run->id)->where('kind', 'begins')->value('text'));
    }

    public function test_a_list_is_read_one_after_the_other_into_one_table(): void
    {
        $one = fn (string $status): int => $this->refresh($this->loans([], ['status' => $status]), 'loans')->rows;
        [$open, $packed] = [$one('open'), $one('packed')];
        $run = $this->refresh($this->loans([], ['status' => ['open', 'packed']], [['name' => 'asked_for', 'input' => 'status']]), 'loans');
        self::assertSame([RunState::Done, $open + $packed, 0], [$run->state, $run->rows, $run->duplicates], (string) json_encode($run->diagnosis));
        self::assertSame(0, (int) $this->rows('select count(*) n from loans where status <> asked_for')[0]->n, 'each row says what it was asked for with');
        self::assertStringContainsString('2 readings', (string) $run->ended);
        $numbers = RunEvent::query()->where('run_id', $run->id)->where('kind', 'page')->orderBy('page')->pluck('page')->all();
        self::assertSame(range(1, $run->pages), $numbers, 'pages are numbered through');
    }

    public function test_a_run_that_was_stopped_in_the_second_reading_goes_on_there(): void
    {
        config(['spring.limits.beat_seconds' => 0]);
        $source = $this->loans([], ['status' => ['open', 'packed']]);
        $whole = $this->refresh($source, 'loans');
        $first = (int) $this->rows("select count(*) n from loans where status = 'open'")[0]->n;
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        app(Refresh::class)->run($run, static function ($run) use ($first): void {
            if ($run->records > $first) {
                app(Runs::class)->stop($run);
            }
        });
        $stopped = $run->refresh();
        if ($stopped->state === RunState::Done) {
            self::markTestSkipped('The second reading has one page.');
        }
        self::assertSame([RunState::Stopped, true], [$stopped->state, $stopped->continuable]);
        self::assertTrue(app(Runs::class)->goOn($run, false));
        $done = app(Refresh::class)->run($run->refresh());
        self::assertSame([RunState::Done, $whole->rows, $whole->pages, 0], [$done->state, $done->rows, $done->pages, $done->duplicates], (string) json_encode($done->diagnosis));
    }

    public function test_an_input_that_has_to_be_filled_and_is_not_refuses_keeping_with_a_sentence(): void
    {
        $source = $this->loans(['required' => true, 'try' => 'open'], null);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Failed, 'inputs'], [$run->state, $run->diagnosis['code'] ?? '']);
        self::assertStringContainsString('status', (string) ($run->diagnosis['what'] ?? ''));
        self::assertSame(0, KeptTable::query()->count());
        $this->actingAs($this->person());
        $fields = $this->fields((string) $this->get('/sources/loans-desk/endpoints/loans')->getContent(), 'sheet-form');
        $this->post('/sources/loans-desk/endpoints/loans/keep', $fields)->assertOk()->assertSee('Say here what the table is read with');
        $this->get('/sources/loans-desk/endpoints/loans')->assertSee('required')->assertSee('Use the test');
    }

    public function test_the_sheet_takes_lines_as_readings_and_says_it_in_words(): void
    {
        $source = $this->loans(['many' => 'comma', 'try' => ['open']], null);
        $this->actingAs($this->person());
        $html = (string) $this->get('/sources/loans-desk/endpoints/loans')->assertSee('all of it')->getContent();
        $fields = $this->fields($html, 'sheet-form');
        $fields['keep_inputs']['status'] = "open, packed\nreturned";
        $this->post('/sources/loans-desk/endpoints/loans', $fields)->assertOk()->assertSee('only status = open and packed, then returned, in 2 readings');
        self::assertSame([['open', 'packed'], 'returned'], $source->refresh()->current()->document['endpoints'][0]['keep']['inputs']['status']);
        $this->post('/sources/loans-desk/endpoints/loans', ['do' => 'keep-as-tried'] + $fields)->assertOk()->assertSee('only status = open');
    }

    public function test_sources_of_before_are_read_as_they_were_which_their_sheet_says_once(): void
    {
        $source = $this->loans(['many' => 'comma', 'try' => ['open', 'packed']], ['status' => [['open', 'packed']]]);
        $before = $this->refresh($source, 'loans')->rows;
        foreach ($source->documents()->get() as $document) {
            $text = json_decode($document->document, true);
            unset($text['endpoints'][0]['keep']);
            $document->update(['document' => json_encode($text)]);
        }
        DB::statement('alter table endpoints drop column inputs_taken_over');
        (require database_path('migrations/2030_01_08_000002_keep_with_inputs_of_their_own.php'))->up();
        $source = Source::query()->findOrFail($source->id);
        self::assertSame([['open', 'packed']], $source->published()?->document['endpoints'][0]['keep']['inputs']['status'] ?? null);
        self::assertSame($before, $this->refresh($source, 'loans')->rows);
        $sentence = 'This table was read with the test values until now.';
        $this->actingAs($this->person())->get('/sources/loans-desk/endpoints/loans')->assertSee($sentence);
        $this->post('/sources/loans-desk/endpoints/loans/inputs-seen')->assertRedirect();
        $this->get('/sources/loans-desk/endpoints/loans')->assertDontSee($sentence);
    }

    /**
     * The list of loans with an input status.
     *
     * @param  array<string, mixed>  $status  of the input
     * @param  array<string, mixed>|null  $kept
     * @param  list<array<string, mixed>>  $columns  more of them
     */
    private function loans(array $status, ?array $kept, array $columns = []): Source
    {
        $source = Source::query()->where('slug', 'loans-desk')->first() ?? $this->source();
        $store = app(SourceStore::class);
        $store->edit($source, null, static function (array $document) use ($status, $kept, $columns): array {
            $endpoint = &$document['endpoints'][0];
            $endpoint['ask']['inputs'] = [['name' => 'status', 'in' => 'query'] + $status];
            $endpoint['keep'] = $kept === null ? [] : ['inputs' => $kept];
            if ($endpoint['keep'] === []) {
                unset($endpoint['keep']);
            }
            array_push($endpoint['flatten']['columns'], ...$columns);

            return $document;
        });
        $store->publish($source->refresh(), null);

        return $source->refresh();
    }
}
