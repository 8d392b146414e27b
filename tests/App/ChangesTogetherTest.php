<?php

declare(strict_types=1);

namespace Tests\App;

use App\Changes\Bulk;
use App\Changes\BulkWish;
use App\Changes\ChangeSets;
use App\Changes\Courier;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\JournalEntry;
use DeepSpring\Change\ChangeState;

/**
 * Changes that travel together, where the service has an endpoint that takes several records.
 */
final class ChangesTogetherTest extends AppTestCase
{
    use ChangesLoans;

    private const MANY = <<<'YAML'
      - slug: change-loans
        name: Change several loans
        does: update
        ask:
          method: POST
          path: /loans/batch
          inputs:
            - {name: id, in: body, type: integer, required: true}
            - {name: due, in: body, type: date}
            - {name: note, in: body}
          body:
            as: json
            of:
              changes: [{id: {input: id}, due: {input: due}, note: {input: note}}]
            each: "$.changes"
        answer: {ok: [200, 207], parts: {at: "$.results[*]", status: "$.status", body: "$.body", match: {path: "$.id", input: id}}}
      - slug: create-loan
    YAML;

    protected function setUp(): void
    {
        parent::setUp();
        $this->keepLoans();
        $this->source = $this->source('loans-desk', ['  - slug: create-loan' => self::MANY, '      offered: {borrower_code' => "      together:\n        update: {endpoint: change-loans, inputs: {id: loan_id, due: due, note: note}, most: 30}\n      offered: {borrower_code"]);
    }

    protected function tearDown(): void
    {
        $this->faults('loans-desk', []);
        parent::tearDown();
    }

    public function test_they_leave_in_few_requests_and_each_has_its_own_outcome(): void
    {
        $open = $this->open(100);
        $set = $this->keep(new BulkWish('query', sql: "select loan_id from loans where loan_id in ($open)", sets: ['note' => '=concat("loan ", text(loan_id))']));
        $this->send($set);
        self::assertSame(['done' => 100], $set->refresh()->counts(), (string) json_encode($set->changes()->pluck('reason')->countBy()));
        self::assertSame(100, (int) $this->rows('select count(*) as n from loans where note = concat("loan ", loan_id)')[0]->n);
        self::assertSame([100, 1], [$this->effects()['count'], max($this->effects()['by'])]);
        $entries = $this->journal($set);
        self::assertCount(100, $entries);
        self::assertStringContainsString('POST /loans-desk/v2/loans/batch', $entries[0]->request);
        self::assertMatchesRegularExpression('/\(\d+ of \d\d in this request:\)/', $entries[0]->request);
        self::assertStringContainsString('"id":'.$entries[0]->record.',', (string) preg_replace('/\s/', '', $entries[0]->request), 'of the request what is about this record');
        self::assertStringNotContainsString('"id":'.$entries[1]->record.',', (string) preg_replace('/\s/', '', $entries[0]->request));
    }

    public function test_what_is_refused_of_them_says_why_at_its_field(): void
    {
        $set = $this->keep(new BulkWish('block', block: [['loan_id', 'note'], ...array_map(static fn (string $loan): array => [$loan, 'x'], explode(',', $this->open(20))), [$this->closed(), 'y']]));
        $this->send($set);
        self::assertEquals(['done' => 20, 'refused' => 1], $set->refresh()->counts(), (string) json_encode($set->changes()->pluck('reason')->countBy()));
        self::assertStringContainsString('closed and cannot be changed', (string) $set->changes()->where('state', ChangeState::Refused)->value('reason'));
    }

    public function test_in_bad_weather_nothing_is_done_twice_or_lost(): void
    {
        $this->faults('loans-desk', ['writes' => ['lost' => 0.3, 'cut' => 0.2, '503' => 0.1, '429' => 0.1]]);
        $set = $this->keep(new BulkWish('query', sql: 'select loan_id from loans where loan_id in ('.$this->open(200).')', sets: ['note' => 'in bad weather']));
        for ($round = 0; $round < 6 && ($set->counts()['done'] ?? 0) < 200; $round++) {
            $set->changes()->whereIn('state', [ChangeState::Refused, ChangeState::Conflict])->with('set.user')->get()->each(fn (Change $change) => app(ChangeSets::class)->settle($change, $this->table(), $change->state === ChangeState::Refused ? 'again' : 'mine'));
            $this->send($set->refresh());
        }
        self::assertSame(['done' => 200], $set->refresh()->counts(), (string) json_encode($set->changes()->pluck('reason')->countBy()));
        self::assertSame(200, JournalEntry::query()->where('id', '>', $this->before)->where('outcome', 'done')->count());
        self::assertSame([200, 1], [$this->effects()['count'], max($this->effects()['by'])], 'the desk did each once');
    }

    public function test_one_alone_goes_to_the_endpoint_for_one_with_its_etag(): void
    {
        $set = $this->keep(new BulkWish('query', sql: 'select loan_id from loans where loan_id in ('.$this->open(1).')', sets: ['note' => 'alone']));
        $this->send($set);
        self::assertMatchesRegularExpression('~PATCH /loans-desk/v2/loans/\d+.*if-match: "~s', $this->journal($set)[0]->request);
    }

    public function test_an_endpoint_that_says_nothing_of_several_records_is_refused(): void
    {
        $this->expectExceptionMessage('does not say where in its body several records stand');
        $this->source('loans-desk', ['      offered: {borrower_code' => "      together: {update: {endpoint: change-loan, inputs: {id: loan_id}}}\n      offered: {borrower_code"]);
    }

    private function open(int $count): string
    {
        return implode(',', array_map(static fn (object $row): string => (string) $row->loan_id, $this->rows("select loan_id from loans where status in ('open', 'out') order by loan_id limit $count")));
    }

    private function closed(): string
    {
        return (string) $this->rows("select loan_id from loans where status = 'closed' order by loan_id limit 1")[0]->loan_id;
    }

    private function keep(BulkWish $wish): ChangeSet
    {
        return app(Bulk::class)->keep($this->table(), $wish, $this->analyst);
    }

    private function send(ChangeSet $set): void
    {
        app(ChangeSets::class)->send($set->load('user'), $this->table(), $this->analyst, queue: false);
        app(Courier::class)->run($set->refresh());
    }

    /**
     * @return list<JournalEntry>
     */
    private function journal(ChangeSet $set): array
    {
        return array_values(JournalEntry::query()->where('id', '>', $this->before)->whereIn('change_id', $set->changes()->pluck('id'))->orderBy('id')->get()->all());
    }
}
