<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use Illuminate\Support\Facades\Artisan;

/**
 * Looking at the number of new rows before they take the place of those that are kept.
 */
final class RowChecksTest extends AppTestCase
{
    private function read(Source $source, RunWish $wish = new RunWish): Run
    {
        return app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null, $wish));
    }

    /**
     * As if that many had been there before.
     */
    private function were(int $rows): void
    {
        KeptTable::query()->where('name', 'positions')->update(['rows' => $rows]);
    }

    /**
     * @param  \Closure(array<string, mixed>): array<string, mixed>  $change  of the endpoint
     */
    private function publish(Source $source, \Closure $change): Source
    {
        app(SourceStore::class)->edit($source, null, static function (array $document) use ($change): array {
            $document['endpoints'][0] = $change($document['endpoints'][0]);

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);

        return $source->refresh();
    }

    public function test_a_table_does_not_lose_half_of_its_rows_without_a_word(): void
    {
        $source = $this->source('stores');
        self::assertSame(640, $this->read($source)->rows);
        $this->were(1280);
        $run = $this->read($source);
        self::assertSame([RunState::Failed, 'check'], [$run->state, $run->diagnosis['code'] ?? null]);
        self::assertSame('positions would have 640 rows, 50 % fewer than the 1 280 that are there; a fall by half or more is not taken over without a word.', str_replace("\u{2009}", ' ', $run->diagnosis['what'] ?? ''));
        self::assertSame(1280, KeptTable::query()->where('name', 'positions')->firstOrFail()->rows, 'the table stays as it is');
        self::assertFalse($run->continuable);
        // Whoever knows better says so.
        $builder = $this->person();
        $this->actingAs($builder)->get("/runs/$run->id")->assertOk()->assertSee('The rows are right: read them again and put them in place');
        $this->actingAs($builder)->post("/runs/$run->id/again", ['takes_any' => '1'])->assertRedirect();
        $again = app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame([RunState::Done, true], [$again->state, $again->takes_any]);
        self::assertStringContainsString('They were put in place all the same, as was asked.', (string) json_encode($again->findings));
        self::assertSame(640, KeptTable::query()->where('name', 'positions')->firstOrFail()->rows);
        self::assertSame(RunState::Done, $this->read($source)->state);
        $this->were(1279);
        self::assertSame(RunState::Done, $this->read($source)->state);
        $this->were(5000);
        self::assertSame(0, Artisan::call('spring:refresh', ['table' => ['positions'], '--despite-checks' => true]));
    }

    public function test_where_something_else_is_asked_for_another_number_is_no_wonder(): void
    {
        $source = $this->source('stores');
        $this->read($source);
        $this->were(5000);
        $source = $this->publish($source, static fn (array $one): array => ['onward' => ['max_pages' => 2] + $one['onward']] + $one);
        self::assertSame([RunState::Done, 160], [($run = $this->read($source))->state, $run->rows]);
        // Another time at which it is refreshed is nothing else.
        $this->were(5000);
        $source = $this->publish($source, static fn (array $one): array => ['keep' => ['refresh' => ['every' => '@daily']]] + $one);
        self::assertSame(RunState::Failed, $this->read($source)->state);
    }

    public function test_a_rule_stops_new_rows_or_is_told(): void
    {
        $source = $this->source('stores');
        $source = $this->publish($source, static fn (array $one): array => ['keep' => ['checks' => [['rows' => ['at_least' => 641]]]]] + $one);
        $run = $this->read($source);
        self::assertSame([RunState::Failed, 'positions would have 640 rows; at least 641 are asked.'], [$run->state, $run->diagnosis['what'] ?? null]);
        self::assertSame([], $this->tablesInTrial());
        $source = $this->publish($source, static fn (array $one): array => ['keep' => ['checks' => [['rows' => ['at_least' => 641], 'on' => 'note']]]] + $one);
        $run = $this->read($source);
        self::assertSame([RunState::Done, true], [$run->state, $run->isInDoubt()]);
        self::assertSame(['check'], array_column($run->findings ?? [], 'code'));
    }
}
