<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Source;
use App\Pace\RateLimitStore;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Onward\Detect\Detector;
use DeepSpring\Onward\Detect\FirstAnswer;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Long lists of the stand-ins, read to their end, and what goes wrong with lists, each with its
 * sentence.
 */
final class ListsTest extends AppTestCase
{
    private const LAB = [['scheme' => 'bearer', 'token' => 'cl-demo-5e19f7b03c8d20aa']];

    private const STORES = [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Key', 'value' => 'st-demo-0b8e5c71f9a2d446'], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Reader', 'value' => 'st-demo-0b8e5c71f9a2d446']];

    protected function tearDown(): void
    {
        foreach (['conservation-lab', 'stores', 'crate-loggers', 'registrar', 'ledger'] as $name) {
            $this->faults($name, []);
        }
        parent::tearDown();
    }

    public function test_the_lab_is_read_by_offset(): void
    {
        $run = $this->refresh($this->lab(), 'list');
        self::assertSame([RunState::Done, 8, 310, 310, '8 pages, 310 records, the total says 310.'], [$run->state, $run->pages, $run->records, $run->rows, $this->plain($run->ended)], (string) json_encode($run->diagnosis));
    }

    public function test_the_stores_are_read_by_range(): void
    {
        $source = $this->list('/stores/v1', self::STORES, '/positions', '$[*]', ['style' => 'range', 'unit' => 'positions', 'size' => 250], 'positionId');
        $run = $this->refresh($source, 'list');
        self::assertSame([RunState::Done, 7, 640], [$run->state, $run->pages, $run->rows], (string) json_encode($run->diagnosis));
        self::assertStringStartsWith('7 pages, 640 records, the total says 640.', $this->plain($run->ended));
        self::assertSame(['size-lowered'], array_column($run->findings ?? [], 'code'), 'the stores hand out 100 at most');
    }

    public function test_the_ledger_is_read_by_its_parts_at_another_address(): void
    {
        $run = $this->refresh($this->source('ledger'), 'postings');
        self::assertSame([RunState::Done, 5, 4200], [$run->state, $run->pages, $run->rows], (string) json_encode($run->diagnosis));
        self::assertSame('5 pages, 4 200 records, the total says 4200. All 5 parts were read.', $this->plain($run->ended));
        self::assertSame('4200', (string) $this->rows('select count(distinct posting) n from postings')[0]->n);
    }

    public function test_the_registrar_is_read_by_links(): void
    {
        $run = $this->refresh($this->source('registrar'), 'objects');
        self::assertSame([RunState::Done, 24, 930], [$run->state, $run->pages, $run->rows], (string) json_encode($run->diagnosis));
        self::assertStringStartsWith('24 pages, 930 records, the total says 930.', $this->plain($run->ended));
    }

    public function test_the_crate_loggers_are_read_by_link_header_since_a_moment(): void
    {
        $run = $this->refresh($this->source('crate-loggers'), 'readings');
        self::assertSame([RunState::Done, 25, 24320], [$run->state, $run->pages, $run->rows], (string) json_encode($run->diagnosis));
        [$row] = $this->rows('select min(reading) least, max(reading) most, count(distinct reading) n, min(at) since from readings');
        self::assertSame(['1975681', '2000000', '24320', '2030-12-10 00:00:00.000000'], array_map(strval(...), array_values((array) $row)));
        self::assertSame('Nothing has changed since', substr((string) $this->again('crates')->ended, 0, 25), 'crates come with an ETag');
    }

    private function again(string $slug): Run
    {
        $source = Source::query()->where('slug', 'crate-loggers')->firstOrFail();
        $this->refresh($source, $slug);

        return $this->refresh($source, $slug);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function standIns(): iterable
    {
        yield 'loans desk' => ['/loans-desk/v2/loans?limit=50', 'cursor'];
        yield 'crate loggers' => ['/crate-loggers/v1/readings', 'link-header'];
        yield 'crates, all in one' => ['/crate-loggers/v1/crates', ''];
        yield 'box office' => ['', 'page'];
        yield 'conservation lab' => ['/conservation-lab/treatments', 'offset'];
        yield 'stores, by page' => ['/stores/v1/positions', 'page'];
        yield 'stores, by range' => ['/stores/v1/positions#range', 'range'];
        yield 'ledger' => ['/ledger/v1/statements', 'partition'];
        yield 'registrar' => ['/registrar/lists/objects', 'next-link'];
    }

    #[DataProvider('standIns')]
    public function test_the_first_proposal_for_a_stand_in_is_right(string $path, string $style): void
    {
        if ($path === '') {
            // What the box office answers to somebody who was let in.
            [$method, $status, $headers, $body] = ['GET', 200, [], '{"tickets": [{"day": "2030-01-01", "door": "main"}, {"day": "2030-01-01", "door": "quay"}], "page": 1, "pages": 548, "total": 1095}'];
        } else {
            $method = str_contains($path, 'statements') ? 'POST' : 'GET';
            $context = stream_context_create(['http' => ['method' => $method, 'ignore_errors' => true, 'content' => $method === 'POST' ? '{"statement": "select posting from postings"}' : '', 'header' => implode("\r\n", array_filter([
                'Content-Type: application/json',
                'X-Stores-Key: st-demo-0b8e5c71f9a2d446', 'X-Stores-Reader: st-demo-0b8e5c71f9a2d446', 'X-Logger-Key: cr-demo-7d13f0a96be4c258', str_ends_with($path, '#range') ? 'Range: positions=0-49' : '',
                'Authorization: '.match (true) {
                    str_starts_with($path, '/conservation') => 'Bearer cl-demo-5e19f7b03c8d20aa', str_starts_with($path, '/ledger') => 'Bearer lq-demo-5d20c8e1b7f94a36', str_starts_with($path, '/loans') => 'Bearer ld-demo-71c0a9d4e25b3f2a', default => 'Basic '.base64_encode('circle:rg-demo-lamp-and-oar')
                },
            ]))]]);
            $body = (string) file_get_contents(self::$standinsAddress.strtok($path, '#'), false, $context);
            $headers = [];
            foreach ($http_response_header as $line) {
                [$name, $value] = explode(': ', $line, 2) + [1 => ''];
                $headers[strtolower($name)] = $value;
            }
            $status = (int) substr($http_response_header[0], 9, 3);
        }
        $found = (new Detector)->propose(new FirstAnswer($method, "http://h$path", $status, $headers, json_decode($body)));
        self::assertSame($style, $found[0]->onward['style'] ?? '', $body === '' ? 'no answer' : substr($body, -200));
    }

    public function test_a_page_parameter_that_is_passed_over_in_silence_fails_the_run_by_its_name(): void
    {
        $this->faults('stores', ['page_as' => 'p']);
        $run = $this->refresh($this->source('stores'), 'positions');
        self::assertSame(['onward', 'Page 2 holds the same records as page 1: the API ignores "page".'], [$run->diagnosis['code'] ?? '', $run->diagnosis['what'] ?? '']);
        self::assertFalse($run->continuable, 'it would only go wrong again');
    }

    public function test_a_list_that_grows_while_it_is_read_is_told_and_every_key_kept_once(): void
    {
        $this->faults('conservation-lab', ['grows' => true]);
        $run = $this->refresh($this->lab(['pace' => ['at_once' => 1]]), 'list');
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
        $codes = array_column($run->findings ?? [], 'code');
        self::assertContains('total-changed', $codes);
        self::assertContains('overlap', $codes);
        self::assertGreaterThan(0, $run->duplicates);
        self::assertSame((string) $run->rows, (string) $this->rows('select count(distinct treatment) n from list_of')[0]->n);
        self::assertStringContainsString('the list was changed while it was read', $this->said($run));
    }

    public function test_pages_that_overlap_are_counted_and_kept_once(): void
    {
        $this->faults('conservation-lab', ['overlaps' => 3]);
        $run = $this->refresh($this->lab(), 'list');
        self::assertSame([RunState::Done, 310, 21], [$run->state, $run->rows, $run->duplicates], (string) json_encode($run->diagnosis));
        self::assertStringContainsString('21 keys came again on the page after (first on page 2): the pages overlap. Each is kept once.', $this->said($run));
        self::assertTrue($run->isInDoubt(), 'more came than the total says');
        $this->actingAs($this->person());
        $this->get('/')->assertSee('in doubt')->assertSee('The total says 310 records');
        $this->get('/tables/list_of')->assertSee('in doubt: The total says 310 records');
    }

    public function test_a_cursor_that_loops_fails_the_run(): void
    {
        $this->faults('crate-loggers', ['loops_at' => 1978000]);
        $run = $this->refresh($this->source('crate-loggers', ['size: 1000}' => 'size: 500}']), 'readings');
        self::assertSame('onward', $run->diagnosis['code'] ?? '');
        self::assertMatchesRegularExpression('/links to a page that was read before|holds the same records as page/', $run->diagnosis['what'] ?? '');
        self::assertSame([], $this->visible());
    }

    public function test_a_link_to_another_host_fails_the_run(): void
    {
        $this->faults('registrar', ['elsewhere' => true]);
        $run = $this->refresh($this->source('registrar'), 'objects');
        self::assertStringContainsString('links to another origin: http://elsewhere.saltmarsh.example/lists/objects', $run->diagnosis['what'] ?? '');
    }

    public function test_a_storm_of_refusals_is_waited_out(): void
    {
        $this->faults('registrar', ['storm' => ['429' => 0.15, '503' => 0.1]]);
        $run = $this->refresh($this->source('registrar'), 'objects');
        self::assertSame([RunState::Done, 930, 0], [$run->state, $run->rows, $run->duplicates], (string) json_encode($run->diagnosis));
        self::assertGreaterThan(0, $run->retries);
        self::assertGreaterThan(0, $run->waited);
        self::assertStringContainsString('sent again in', $this->log($run, 3));
    }

    public function test_connections_cut_in_the_middle_of_a_body_are_made_good(): void
    {
        $this->faults('registrar', ['storm' => ['cut' => 0.2]]);
        $run = $this->refresh($this->source('registrar'), 'objects');
        self::assertSame([RunState::Done, 930, 0], [$run->state, $run->rows, $run->duplicates], (string) json_encode($run->diagnosis));
        self::assertGreaterThan(0, $run->retries);
    }

    public function test_an_outage_of_twenty_seconds_is_waited_out(): void
    {
        $this->faults('registrar', ['outage_until' => microtime(true) + 20]);
        $from = microtime(true);
        $source = $this->source('registrar');
        $run = $this->refresh($source, 'objects');
        self::assertSame([RunState::Done, 930], [$run->state, $run->rows], (string) json_encode($run->diagnosis));
        self::assertGreaterThan(19, microtime(true) - $from);
        self::assertSame('closed', app(RateLimitStore::class)->state($source->id, $this->trial()->id)->breaker(microtime(true)));
        self::assertStringContainsString('Waits', $this->log($run, 3));
    }

    public function test_what_the_crate_loggers_allow_is_not_exceeded(): void
    {
        $this->faults('crate-loggers', ['allows' => 8]);
        $source = $this->source('crate-loggers', ['  pace: {per_minute: 600, at_once: 4}' => '  pace: {patience: 0}']);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'crates'), $source->current(), $source->current()->endpoint('crates') ?? self::fail(), $this->trial(), null);
        self::assertTrue($try->succeeded);
        // More often than it allows, so that a minute that ends in between does not matter.
        for ($n = 0; $n < 40; $n++) {
            $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null, []);
            if (! $try->succeeded) {
                break;
            }
            $state = app(RateLimitStore::class)->state($source->id, $this->trial()->id);
            if ($state->pausedUntil > microtime(true)) {
                self::assertStringContainsString('no requests are left', (string) $state->reason);

                return;
            }
        }
        self::fail('Nobody heeded it: '.json_encode($try->diagnosis));
    }

    public function test_a_run_keeps_every_exchange_when_asked_and_its_log_has_four_levels(): void
    {
        $source = $this->source('stores');
        $run = app(\App\Runs\Refresh::class)->run(app(\App\Runs\Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null, new \App\Runs\RunWish(true)));
        self::assertSame(RunState::Done, $run->state);
        self::assertSame(8, \App\Models\Exchange::query()->where('run_id', $run->id)->count());
        foreach ([1 => 1, 2 => 3, 3 => 11, 4 => 19] as $level => $lines) {
            self::assertSame($lines, RunEvent::query()->where('run_id', $run->id)->where('level', '<=', $level)->count(), "level $level");
        }
        $this->actingAs($this->person())->get("/runs/$run->id?level=4")->assertOk()->assertSee('8 pages, 640')->assertSee('GET /stores/v1/positions?page=1');
        $exchange = \App\Models\Exchange::query()->where('run_id', $run->id)->firstOrFail();
        $this->get("/runs/$run->id/exchanges/$exchange->id")->assertOk()->assertSee('positionId')->assertDontSee('st-demo-0b8e5c71f9a2d446');
    }

    /**
     * @param  array<string, mixed>  $more
     */
    private function lab(array $more = []): Source
    {
        return $this->list('/conservation-lab', self::LAB, '/treatments', '$.treatments[*]', ['style' => 'offset', 'send_as' => 'offset', 'size_as' => 'limit', 'size' => 40, 'total' => '$.count'], 'treatment', $more);
    }

    /**
     * @param  list<array<string, mixed>>  $access
     * @param  array<string, mixed>  $onward
     * @param  array<string, mixed>  $more
     */
    private function list(string $base, array $access, string $path, string $records, array $onward, string $key, array $more = []): Source
    {
        $source = $this->draft(self::$standinsAddress.$base, $access, [['slug' => 'list', 'name' => 'List', 'ask' => ['path' => $path], 'answer' => ['records' => $records], 'onward' => $onward, 'flatten' => ['table' => 'list_of', 'key' => [$key], 'columns' => [['name' => $key, 'from' => "$.$key", 'type' => 'text']]]]], $more);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    private function said(Run $run): string
    {
        return implode("\n", array_column($run->findings ?? [], 'sentence'));
    }

    private function log(Run $run, int $level): string
    {
        return RunEvent::query()->where('run_id', $run->id)->where('level', '<=', $level)->pluck('text')->implode("\n");
    }

    private function plain(?string $text): string
    {
        return str_replace("\u{202f}", ' ', (string) $text);
    }

    /**
     * @return list<string>
     */
    private function visible(): array
    {
        return array_values(array_filter($this->tablesInTrial(), static fn (string $name): bool => ! str_starts_with($name, 'stage__')));
    }
}
