<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\CheckResult;
use App\Models\Role;
use App\Models\Source;
use App\Sources\SourceStore;
use Illuminate\Support\Facades\Artisan;

/**
 * The page of checks, and where their results are shown.
 */
final class CheckPagesTest extends AppTestCase
{
    private function path(string $more = ''): string
    {
        return "/sources/stores/endpoints/positions/checks$more";
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function checks(Source $source): array
    {
        return $source->refresh()->current()->endpoint('positions')->endpoint['keep']['checks'] ?? [];
    }

    /**
     * The fields of the page, as they stand.
     *
     * @param  array<array-key, mixed>  $more
     * @return array<array-key, mixed>
     */
    private function form(array $more): array
    {
        return array_replace_recursive($this->fields((string) $this->get($this->path())->assertOk()->getContent(), 'check-form'), $more);
    }

    public function test_a_rule_is_added_told_what_is_wrong_with_it_kept_tried_and_removed(): void
    {
        $source = $this->source('stores');
        $this->refresh($source, 'positions');
        $this->actingAs($this->person());
        $this->get($this->path())->assertOk()->assertSee('No rule yet.');
        $this->get($this->path('/tried'))->assertOk()->assertSee('Proposed from the rows that are there');
        // A new one stands there to be filled, and nothing is kept yet.
        $this->followingRedirects()->post($this->path(), ['do' => 'add', 'kind' => 'never_empty', 'table' => 'positions', 'seen' => 'x'])->assertOk()->assertSee('checks[0][never_empty]', false)->assertDontSee('No rule yet.');
        self::assertSame([], $this->checks($source));
        $row = ['kind' => 'never_empty', 'table' => 'positions', 'on' => 'note', 'was' => '', 'never_empty' => 'shelv'];
        $form = ['do' => 'save', 'seen' => $this->form([])['seen'], 'checks' => [$row]];
        $this->post($this->path(), $form)->assertRedirect();
        $this->get($this->path())->assertSee('The table positions has no column &quot;shelv&quot;', false)->assertSee('value="shelv"', false);
        self::assertSame([], $this->checks($source), 'what is wrong is not kept');
        $column = $source->current()->endpoint('positions')?->endpoint['flatten']['columns'][1]['name'];
        $form['checks'][0]['never_empty'] = (string) $column;
        $this->followingRedirects()->post($this->path(), $form)->assertOk()->assertSee('Kept in the draft.');
        self::assertSame([['never_empty' => [$column], 'on' => 'note']], $this->checks($source));
        $this->get($this->path('/tried'))->assertSee('tried-0')->assertSee('Holds for all');
        // A page that was open before does not write over it.
        $this->post($this->path(), $form)->assertSessionHasErrors('checks');
        self::assertCount(1, $this->checks($source));
        $this->post($this->path(), $this->form(['do' => 'use', 'proposal' => '{"rows":{"at_least":100}}']))->assertSessionHasNoErrors();
        self::assertSame([['never_empty' => [$column], 'on' => 'note'], ['rows' => ['at_least' => 100]]], $this->checks($source));
        $this->post($this->path(), $this->form(['do' => 'remove 0']))->assertSessionHasNoErrors();
        self::assertSame([['rows' => ['at_least' => 100]]], $this->checks($source));
        $this->actingAs($this->person(Role::Analyst))->post($this->path(), $form)->assertForbidden();
    }

    public function test_what_came_of_them_is_shown_with_the_run_the_table_and_on_the_command_line(): void
    {
        $source = $this->source('stores');
        app(SourceStore::class)->edit($source, null, static function (array $document): array {
            $columns = array_column($document['endpoints'][0]['flatten']['columns'], 'name');
            $document['endpoints'][0]['keep']['checks'] = [['never_empty' => $document['endpoints'][0]['flatten']['key']], ['every' => 'false', 'on' => 'note'], ['unique' => [end($columns)], 'on' => 'note']];

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);
        $run = $this->refresh($source->refresh(), 'positions');
        $this->refresh($source->refresh(), 'positions');
        self::assertSame(6, CheckResult::query()->count());
        $this->actingAs($this->person());
        $this->get("/runs/$run->id")->assertOk()->assertSee('false does not hold for 640 of 640 rows of positions.')->assertSee('Some of the rows');
        $this->get('/tables/positions')->assertOk()->assertSee('held 0 of the last 2 times')->assertSee('held 2 of the last 2 times')->assertSee('in doubt');
        // An analyst sees what is wrong with the rows that they read.
        $this->actingAs($this->person(Role::Analyst))->get('/tables/positions')->assertOk()->assertSee('false does not hold')->assertDontSee('See and change them');
        self::assertSame(1, Artisan::call('spring:checks', ['table' => 'positions']));
        self::assertStringContainsString("broken\tfalse, or the run says so\tfalse does not hold for 640 of 640 rows of positions.", Artisan::output());
        self::assertSame(0, Artisan::call('spring:checks', ['table' => 'positions', '--propose' => true]));
        self::assertStringStartsWith('- { ', Artisan::output());
        self::assertSame(2, Artisan::call('spring:checks', ['table' => 'nothing']));
    }
}
