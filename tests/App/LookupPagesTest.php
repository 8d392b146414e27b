<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Models\Run;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use Illuminate\Support\Facades\Artisan;

/**
 * The page of a lookup and its command: the carrier asked for every consignment of the loans.
 */
final class LookupPagesTest extends AppTestCase
{
    private const PATH = '/sources/freight-tracker/endpoints/consignment/lookup';

    /**
     * @return array{Source, array<string, mixed>} the carrier, and its endpoint as it stands in the demo
     */
    private function carrier(): array
    {
        $loans = $this->source('loans-desk');
        self::assertSame(6, substr_count((string) $this->refresh($loans, 'loans')->state->value.'      ', ' '), 'the loans are kept');
        $source = $this->source('freight-tracker');

        return [$source, $source->current()->endpoint('consignment')->endpoint ?? []];
    }

    /**
     * @return array<string, mixed>
     */
    private function endpointNow(Source $source): array
    {
        return $source->refresh()->current()->endpoint('consignment')->endpoint ?? [];
    }

    public function test_a_lookup_is_bound_from_what_is_proposed_and_given_up_again(): void
    {
        [$source, $demo] = $this->carrier();
        $this->actingAs($this->person());
        $this->post(self::PATH, ['do' => 'none'])->assertRedirect();
        $bare = $this->endpointNow($source);
        self::assertArrayNotHasKey('inputs', $bare['keep'] ?? []);
        self::assertSame([], array_filter($bare['flatten']['columns'], static fn (array $column): bool => isset($column['row'])));
        $html = (string) $this->get(self::PATH.'?table=loans')->assertOk()->assertSee('proposed: its values look like the test value')->getContent();
        self::assertMatchesRegularExpression('~<option value="consignment"\s+selected~', $html);
        $form = ['table' => 'loans', 'bind' => ['number' => 'consignment'], 'text' => ['number' => ''], 'carry' => ['loan_id', 'borrower'], 'prefix' => '', 'not_found' => 'reject', 'rows' => 'found', 'answers' => 'P1D', 'do' => 'save'];
        $this->followingRedirects()->post(self::PATH, $form)->assertOk()->assertSee('Kept in the draft.');
        $now = $this->endpointNow($source);
        self::assertSame([$demo['keep'], ['loan_id', 'borrower', 'number'], ['loan_id']], [$now['keep'], array_slice(array_column($now['flatten']['columns'], 'name'), 0, 3), $now['flatten']['key']]);
        $this->post(self::PATH, ['prefix' => 'loan_', 'carry' => ['loan_id', 'fee'], 'not_found' => 'empty', 'rows' => 'all', 'answers' => ''] + $form);
        $now = $this->endpointNow($source);
        self::assertSame([['name' => 'loan_loan_id', 'row' => 'loan_id', 'type' => 'integer'], ['name' => 'loan_fee', 'row' => 'fee', 'type' => 'decimal', 'scale' => 2]], array_slice($now['flatten']['columns'], 0, 2));
        self::assertSame([['loan_loan_id'], ['not_found' => 'empty', 'rows' => 'all']], [$now['flatten']['key'], $now['keep']['lookup']]);
        // Several columns make one input; what is wrong is said, and nothing is kept of it.
        $this->post(self::PATH, ['text' => ['number' => '{consignment}']] + $form);
        self::assertSame(['from' => ['table' => 'loans', 'text' => '{consignment}']], $this->endpointNow($source)['keep']['inputs']['number']);
        $this->post(self::PATH, ['bind' => ['number' => '']] + $form)->assertSessionHasErrors('lookup');
        $this->post(self::PATH, ['table' => 'nothing'] + $form)->assertSessionHasErrors('table');
        $this->actingAs($this->person(Role::Analyst))->post(self::PATH, $form)->assertForbidden();
    }

    public function test_some_rows_are_tried_and_all_of_them_reckoned(): void
    {
        [$source] = $this->carrier();
        $this->actingAs($this->person());
        $this->get(self::PATH)->assertOk()->assertSee('541 different requests')->assertSee('How long they take is said once some rows were tried.');
        $this->post(self::PATH.'/try')->assertOk()->assertSee('GET /freight-tracker/v3/consignments/')->assertSee('5 rows: 4 asked')->assertSee('The Chart Room')->assertSee('at 8 at once');
        $try = Tryout::query()->latest('id')->firstOrFail();
        self::assertSame([true, 4], [$try->succeeded, $try->exchanges()->count()]);
        self::assertSame(0, Artisan::call('spring:lookup', ['endpoint' => 'freight-tracker/consignment', '--rows' => 2]));
        self::assertStringContainsString("1\tGET /freight-tracker/v3/consignments/", Artisan::output());
        self::assertSame(2, Artisan::call('spring:lookup', ['endpoint' => 'freight-tracker/ping']));
        self::assertSame(1, $source->endpoints()->where('slug', 'ping')->count());
    }

    public function test_every_consignment_of_the_loans_is_found_or_said_to_be_missing(): void
    {
        [$source] = $this->carrier();
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'consignment'), $this->trial(), null));
        $loans = (int) $this->rows('select count(*) n from loans where consignment is not null')[0]->n;
        // The carrier does not know some, and is busy for others.
        $missing = (int) $this->rows('select count(*) n from loans where consignment > 70900 or consignment % 97 = 0')[0]->n;
        self::assertGreaterThan(0, $missing);
        self::assertSame([$loans - $missing, $missing], [$run->rows, $run->lookup['failed'] ?? null], (string) json_encode($run->diagnosis ?? $run->findings));
        self::assertSame($loans - $missing, (int) $this->rows('select count(*) n from loans l join consignments c on c.loan_id = l.loan_id and c.number = l.consignment and c.borrower = l.borrower')[0]->n, 'each answer stands with the loan that it was asked for');
        $this->actingAs($this->person());
        $this->get("/runs/$run->id")->assertOk()->assertSee('rows asked for')->assertSee("Ask for the $missing rows that failed again");
        $this->post("/runs/$run->id/again", ['failed_rows' => '1'])->assertRedirect();
        $again = app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame([$run->rows, $missing], [$again->rows, $again->lookup['failed'] ?? null]);
        $this->get('/')->assertOk()->assertSee('consignments');
        // In XML it is the same.
        app(SourceStore::class)->edit($source->refresh(), null, static function (array $document): array {
            foreach ($document['endpoints'] as $number => $one) {
                if ($one['slug'] === 'consignment') {
                    $one['ask']['headers'] = ['accept' => 'application/xml'];
                    $one['flatten']['columns'] = array_map(static fn (array $column): array => isset($column['from']) ? ['from' => '$.consignment.'.($column['name'] === 'number' ? "['@number']" : substr($column['from'], 2))] + $column : $column, array_filter($one['flatten']['columns'], static fn (array $column): bool => $column['name'] !== 'weight_kg'));
                    $one['flatten']['columns'] = array_values(array_map(static fn (array $column): array => ($column['name'] === 'number' ? ['from' => "$.consignment['@number']"] : []) + $column, $one['flatten']['columns']));
                    $document['endpoints'][$number] = $one;
                }
            }

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);
        $before = $this->rows('select loan_id, number, state, place, seen, crates from consignments order by loan_id');
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source->refresh(), 'consignment'), $this->trial(), null, new RunWish));
        self::assertEquals($before, $this->rows('select loan_id, number, state, place, seen, crates from consignments order by loan_id'), (string) json_encode($run->diagnosis ?? $run->findings));
    }
}
