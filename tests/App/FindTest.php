<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Find\Finder;
use App\Http\Find\FoundItem;
use App\Models\Role;
use App\Models\SavedQuery;
use App\Models\User;

/**
 * One list over every screen.
 */
final class FindTest extends AppTestCase
{
    public function test_everything_is_found_by_a_part_of_its_name_and_what_begins_with_it_comes_first(): void
    {
        $run = $this->refresh($this->source('stores'), 'positions');
        $builder = $this->person();
        SavedQuery::query()->create(['user_id' => $builder->id, 'name' => 'Empty positions', 'sql' => 'select 1']);
        self::assertSame([['table', 'positions'], ['query', 'Empty positions']], array_values(array_filter($this->found($builder, 'positions'), static fn (array $one): bool => in_array($one[0], ['table', 'query'], true))));
        self::assertContains(['source', 'Stores'], $this->found($builder, 'STOR'));
        self::assertContains(['endpoint', 'Shelf positions'], $this->found($builder, 'shelf'));
        self::assertContains(['column', 'room'], $this->found($builder, 'room'));
        self::assertContains(['run', "Run $run->id"], $this->found($builder, (string) $run->id));
        self::assertContains(['run', "Run $run->id"], $this->found($builder, 'positions'));
        self::assertContains(['screen', 'Environments'], $this->found($builder, 'envir'));
        self::assertContains(['screen', 'Your account'], $this->found($builder, 'second factor'), 'by another word for it');
        self::assertContains(['action', 'Add a source'], $this->found($builder, 'openapi'));
    }

    public function test_what_can_be_done_on_the_screen_that_is_open_comes_first(): void
    {
        $this->source('stores');
        self::assertSame(['action', 'Add endpoints'], $this->found($this->person(), '', '/sources/stores')[0]);
        self::assertContains(['action', 'All tries'], $this->found($this->person(), '', '/sources/stores/endpoints/positions'));
        self::assertNotContains(['action', 'All tries'], $this->found($this->person(), '', '/tables'));
    }

    public function test_nobody_finds_what_they_may_not_see(): void
    {
        $this->refresh($this->source('stores'), 'positions');
        $analyst = $this->person(Role::Analyst);
        foreach (['', 'stor', 'shelf', 'runs', 'people', 'positions'] as $text) {
            foreach ($this->found($analyst, $text, '/sources/stores') as [$kind, $name]) {
                self::assertNotContains($kind, ['source', 'endpoint', 'run'], $name);
                self::assertNotContains($name, ['Sources', 'Runs', 'People', 'Outbound', 'Environments', 'Add endpoints', 'Source file']);
            }
        }
        self::assertContains(['table', 'positions'], $this->found($analyst, 'positions'));
    }

    public function test_signs_of_patterns_are_taken_as_they_are(): void
    {
        $this->refresh($this->source('stores'), 'positions');
        foreach (['%', '_', '\\', '"', "'"] as $sign) {
            self::assertSame([], array_filter($this->found($this->person(), $sign), static fn (array $one): bool => $one[0] === 'source'), $sign);
        }
        $this->actingAs($this->person())->get('/find?as=list&q='.urlencode('<b>'))->assertOk()->assertSee('&lt;b&gt;', false);
        $this->get('/find?q=stor')->assertOk();
    }

    /**
     * @return list<array{string, string}> kind and name
     */
    private function found(User $person, string $text, string $here = ''): array
    {
        return array_map(static fn (FoundItem $one): array => [$one->kind, $one->name], app(Finder::class)->find($person, $this->trial(), $text, $here));
    }
}
