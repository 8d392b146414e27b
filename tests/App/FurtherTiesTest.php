<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Role;
use App\OData\MetadataFetcher;
use App\Queries\IndexAdvisor;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use App\Runs\ProfileBook;
use App\Sources\SourceStore;
use DeepSpring\Sql\JoinTie;

/**
 * Joins that are proposed besides those along keys.
 */
final class FurtherTiesTest extends AppTestCase
{
    /**
     * @return list<string>
     */
    private function ties(string $table): array
    {
        $ties = (new KnownTables($this->trial(), app(LiveTables::class), app(IndexAdvisor::class)))->ties($table);

        return array_map(static fn (JoinTie $tie): string => "$tie->other ".implode(', ', array_map(static fn (array $pair): string => "$pair[0]=$pair[1]", $tie->pairs)).": $tie->why", $ties);
    }

    public function test_navigation_of_a_service_is_followed_both_ways(): void
    {
        $endpoint = static fn (string $set): array => ['slug' => strtolower($set), 'name' => $set, 'entity_set' => $set, 'page' => ['size' => 500, 'long_numbers' => true]];
        $source = $this->draft(self::$standinsAddress.'/registrar/v4', [['scheme' => 'basic', 'username' => 'circle', 'password' => 'rg-demo-lamp-and-oar']], [$endpoint('Objects'), $endpoint('Venues')], ['kind' => 'odata', 'odata' => ['version' => 4]]);
        app(MetadataFetcher::class)->read($source, $this->trial(), null);
        app(SourceStore::class)->publish($source->refresh(), null);
        foreach (['objects', 'venues'] as $slug) {
            self::assertSame('done', $this->refresh($source->refresh(), $slug)->state->value);
        }
        self::assertStringContainsString('venues venue_slug=slug: by ', implode('; ', $this->ties('objects')));
        self::assertStringContainsString('objects slug=venue_slug: by ', implode('; ', $this->ties('venues')));
        $this->actingAs($this->person(Role::Analyst));
        $sql = 'select * from objects o join ';
        $labels = array_column($this->post('/queries/complete', ['sql' => $sql, 'cursor' => (string) strlen($sql)])->json('proposed'), 'label');
        self::assertStringContainsString('.slug = o.venue_slug', $labels[0]);
    }

    public function test_columns_of_one_name_are_proposed_last_and_not_where_their_values_cannot_meet(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->refresh($this->source('crate-loggers'), 'crates');
        $copy = KeptTable::query()->where('name', 'crates')->sole();
        $column = ['name' => 'house', 'given' => 'house', 'type' => 'text', 'label' => 'text', 'scale' => null, 'from' => '$.house'];
        $copy->update(['columns' => [...$copy->columns, $column, ['name' => 'note', 'given' => 'note'] + $column, ['name' => 'consignment', 'given' => 'consignment', 'type' => 'integer'] + $column]]);
        $ties = $this->ties('loans');
        self::assertContains('crates house=house: a column of the same name', $ties);
        self::assertContains('crates consignment=consignment: a column of the same name', $ties);
        self::assertStringNotContainsString('note=note', implode('; ', $ties));
        self::assertStringStartsWith('loan_items', $ties[0]);
        $book = app(ProfileBook::class);
        $book->take(KeptTable::query()->where('name', 'loans')->sole());
        $profile = static fn (string $least, string $most): array => ['name' => 'consignment', 'nulls' => 0, 'empty' => 0, 'distinct' => 9, 'least' => $least, 'most' => $most, 'lengths' => null, 'bars' => [], 'common' => []];
        $theirs = \App\Models\TableProfile::query()->create(['environment_id' => $copy->environment_id, 'endpoint_id' => $copy->endpoint_id, 'table' => 'crates', 'run_id' => null, 'rows' => 9, 'columns' => [$profile('1', '9')], 'milliseconds' => 1, 'at' => now()]);
        self::assertStringNotContainsString('consignment=', implode('; ', $this->ties('loans')));
        $theirs->update(['columns' => [$profile('1', '99999999')]]);
        self::assertStringContainsString('consignment=', implode('; ', $this->ties('loans')));
    }
}
