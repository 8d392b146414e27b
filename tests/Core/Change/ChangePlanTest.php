<?php

declare(strict_types=1);

namespace Tests\Core\Change;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Ask\SendFailure;
use DeepSpring\Change\ChangePlan;
use DeepSpring\Change\ChangeProposal;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\OppositeChange;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ChangePlanTest extends TestCase
{
    /**
     * @param  array<string, string>  $changes
     */
    private function file(array $changes = []): SourceFile
    {
        return SourceFile::read(strtr((string) file_get_contents(dirname(__DIR__, 3).'/database/demo/loans-desk.yaml'), $changes));
    }

    /**
     * @param  array<string, string>  $changes
     */
    private function plan(array $changes = []): ChangePlan
    {
        return ChangePlan::of($this->file($changes), 'loans') ?? self::fail('Nothing can be changed.');
    }

    private const ROW = ['loan_id' => '8812', 'due' => '2031-03-31', 'note' => 'old', 'policy' => '062800', 'cover' => '38427.33', 'status' => 'open', 'borrower_code' => 'lantern-room'];

    /**
     * @return iterable<string, array{RecordChange, string, array<string, string>}>
     */
    public static function changes(): iterable
    {
        yield 'one column' => [new RecordChange(RecordAct::Update, self::ROW, ['due' => '2031-04-30']), 'PATCH /v2/loans/8812 {"due":"2031-04-30"}', []];
        yield 'what belongs together' => [new RecordChange(RecordAct::Update, self::ROW, ['cover' => '12500.00']), 'PATCH /v2/loans/8812 {"insurance":{"policy":"062800","value":12500}}', []];
        yield 'emptied' => [new RecordChange(RecordAct::Update, self::ROW, ['note' => null]), 'PATCH /v2/loans/8812 {"note":null}', []];
        yield 'an empty text' => [new RecordChange(RecordAct::Update, self::ROW, ['note' => '']), 'PATCH /v2/loans/8812 {"note":""}', []];
        yield 'all of an object emptied' => [new RecordChange(RecordAct::Update, self::ROW, ['policy' => null, 'cover' => null]), 'PATCH /v2/loans/8812 {"insurance":null}', []];
        yield 'half of an object emptied' => [new RecordChange(RecordAct::Update, self::ROW, ['policy' => null]), '', ['policy']];
        yield 'half of an object that is not there' => [new RecordChange(RecordAct::Update, ['policy' => null, 'cover' => null] + self::ROW, ['cover' => '1.00']), '', ['policy']];
        yield 'a column that nothing changes' => [new RecordChange(RecordAct::Update, self::ROW, ['status' => 'closed']), '', ['status']];
        yield 'the key' => [new RecordChange(RecordAct::Update, self::ROW, ['loan_id' => '1']), '', ['loan_id']];
        yield 'a column that is gone' => [new RecordChange(RecordAct::Update, self::ROW, ['colour' => 'red']), '', ['colour']];
        yield 'a new one' => [new RecordChange(RecordAct::Create, [], ['borrower_code' => 'gull-tower', 'due' => '2031-06-15', 'policy' => '004711', 'cover' => '900.00'], mark: 'm-1'), 'POST /v2/loans {"borrower":"gull-tower","due":"2031-06-15","insurance":{"policy":"004711","value":900}}', []];
        yield 'a new one without what it needs' => [new RecordChange(RecordAct::Create, [], ['note' => 'x', 'cover' => '1.00']), '', ['borrower_code', 'due', 'policy']];
        yield 'called' => [new RecordChange(RecordAct::Call, self::ROW, mark: 'm-2'), 'POST /v2/loans/8812/close ', []];
        yield 'a key that would be another address' => [new RecordChange(RecordAct::Call, ['loan_id' => '../x'] + self::ROW), '', ['loan_id']];
    }

    /**
     * @param  list<string>  $faults  columns
     */
    #[DataProvider('changes')]
    public function test_a_change_becomes_a_request_or_says_what_does_not_fit(RecordChange $change, string $request, array $faults): void
    {
        $asked = $this->plan()->asked($change);
        self::assertEqualsCanonicalizing($faults, array_keys($asked->faults), (string) json_encode($asked->faults));
        if ($faults === []) {
            $made = (new RequestBuilder('http://127.0.0.1/v2', [], [], []))->build($asked->bound->endpoint->ask(), $asked->values, new GivenSecrets([]));
            self::assertSame($request, "{$made->getMethod()} {$made->getRequestTarget()} {$made->getBody()}");
            self::assertSame($change->kind === RecordAct::Update ? '' : $change->mark, $made->getHeaderLine('Idempotency-Key'));
        }
    }

    public function test_a_put_carries_the_columns_that_stay_as_well(): void
    {
        $asked = $this->plan(['method: PATCH' => 'method: PUT'])->asked(new RecordChange(RecordAct::Update, self::ROW, ['due' => '2031-04-30']));
        self::assertSame(['id' => ['8812'], 'due' => ['2031-04-30'], 'note' => ['old'], 'policy' => ['062800'], 'value' => ['38427.33']], $asked->values);
        $only = $this->plan(['method: PATCH' => 'method: PUT', '      offered: {' => "      sends: changed\n      offered: {"])->asked(new RecordChange(RecordAct::Update, self::ROW, ['due' => '2031-04-30']));
        self::assertSame(['id' => ['8812'], 'due' => ['2031-04-30']], $only->values);
    }

    public function test_only_named_columns_and_offered_values_can_be_used_where_the_file_says_so(): void
    {
        $plan = $this->plan(['      offered: {borrower_code: {table: loans, column: borrower_code}}' => "      columns: [note]\n      offered: {note: [seen, lost]}"]);
        self::assertSame(['note'], array_keys(array_filter($plan->changeable(), static fn ($one): bool => $one->inUpdate)));
        self::assertSame([], $plan->asked(new RecordChange(RecordAct::Update, self::ROW, ['note' => 'seen']))->faults);
        self::assertSame(['note' => 'It is none of seen, lost.'], $plan->asked(new RecordChange(RecordAct::Update, self::ROW, ['note' => 'found']))->faults);
        self::assertSame(['due'], array_keys($plan->asked(new RecordChange(RecordAct::Update, self::ROW, ['due' => '2031-01-01']))->faults));
    }

    public function test_masked_and_computed_columns_are_never_changed(): void
    {
        $plan = $this->plan(['- {name: ref, from: "$.ref", type: text}' => '- {name: ref, from: "$.ref", type: text, mask: hash}', '- {name: due, from: "$.due", type: date}' => '- {name: due, compute: "date(\"2031-01-01\")", type: date}']);
        self::assertFalse($plan->changeable()['ref']->inUpdate);
        self::assertFalse($plan->changeable()['due']->inUpdate);
        self::assertStringContainsString('hash', $plan->changeable()['ref']->why);
    }

    /**
     * @return iterable<string, array{string, RecordChange, array<string, string>}>
     */
    public static function checked(): iterable
    {
        $update = static fn (array $after, array $before = self::ROW): RecordChange => new RecordChange(RecordAct::Update, $before, $after);
        yield 'a range' => ['{range: cover, at_least: 0, at_most: 90000}', $update(['cover' => '90000.01']), ['cover' => 'A check of the table says that cover is between 0 and 90000.']];
        yield 'at its end' => ['{range: cover, at_least: 0, at_most: 90000}', $update(['cover' => '90000.00']), []];
        yield 'numbers however written' => ['{one_of: cover, values: [900, 1000.5]}', $update(['cover' => '1000.50']), []];
        yield 'days' => ['{range: due, at_least: "2031-01-01"}', $update(['due' => '2030-12-31']), ['due' => 'A check of the table says that due is at least 2031-01-01.']];
        yield 'a form' => ['{matches: policy, pattern: "[0-9]{6}"}', $update(['policy' => '12345']), ['policy' => 'A check of the table says that policy matches [0-9]{6}.']];
        yield 'never empty' => ['{never_empty: [note]}', $update(['note' => '']), ['note' => 'A check of the table says that it is never empty.']];
        yield 'some values' => ['{one_of: note, values: [quiet, loud]}', $update(['note' => 'green']), ['note' => 'A check of the table says that note is one of quiet, loud.']];
        yield 'a condition over the row' => ['{every: "note != \"x\" or cover > 1000"}', $update(['cover' => '900.00'], ['note' => 'x'] + self::ROW), ['cover' => 'A check of the table does not hold then: note != "x" or cover > 1000.']];
        yield 'a condition over other columns' => ['{every: "cover > 1000"}', $update(['note' => 'new'], ['cover' => '1.00'] + self::ROW), []];
        yield 'a condition of which a new record knows half' => ['{every: "note != \"x\" or status == \"open\""}', new RecordChange(RecordAct::Create, [], ['borrower_code' => 'gull-tower', 'due' => '2031-06-15', 'note' => 'x']), []];
        yield 'one that is only noted' => ['{range: cover, at_most: 1, on: note}', $update(['cover' => '2.00']), []];
        yield 'of a branch' => ['{table: loan_items, never_empty: [object]}', $update(['note' => 'new']), []];
    }

    /**
     * @param  array<string, string>  $expected
     */
    #[DataProvider('checked')]
    public function test_checks_of_the_table_are_asked_at_the_cell(string $check, RecordChange $change, array $expected): void
    {
        $plan = $this->plan(["    flatten:\n      table: loans\n" => "    keep: {checks: [$check]}\n    flatten:\n      table: loans\n"]);
        self::assertSame($expected, $plan->asked($change)->faults);
    }

    public function test_what_was_done_is_taken_back_by_its_opposite(): void
    {
        $plan = $this->plan();
        $now = ['note' => 'new'] + self::ROW;
        [$opposite, $lost] = OppositeChange::of($plan, new RecordChange(RecordAct::Update, self::ROW, ['note' => 'new']), $now);
        self::assertEquals([new RecordChange(RecordAct::Update, $now, ['note' => 'old']), []], [$opposite, $lost]);
        [$opposite, $lost] = OppositeChange::of($plan, new RecordChange(RecordAct::Create, [], ['note' => 'new']), $now);
        self::assertSame([null, ['Nothing deletes a record of this table.']], [$opposite, $lost]);
        [$opposite, $lost] = OppositeChange::of($plan, new RecordChange(RecordAct::Delete, self::ROW), []);
        self::assertSame(['due' => '2031-03-31', 'note' => 'old', 'policy' => '062800', 'cover' => '38427.33', 'borrower_code' => 'lantern-room'], array_intersect_key($opposite->after ?? [], ['due' => 1, 'note' => 1, 'policy' => 1, 'cover' => 1, 'borrower_code' => 1]));
        self::assertSame(['A new record cannot be given loan_id, status: the service decides on them.'], $lost);
        self::assertNull(OppositeChange::of($plan, new RecordChange(RecordAct::Call, self::ROW), $now)[0]);
    }

    public function test_the_demo_could_have_been_proposed(): void
    {
        $file = $this->file();
        $list = $file->endpoint('loans') ?? self::fail();
        $proposed = ChangeProposal::of($file, $list)->settings;
        $said = $list->endpoint['change'];
        foreach (['get', 'create', 'update'] as $role) {
            self::assertEquals($said[$role], $proposed[$role], $role);
        }
        self::assertSame(['endpoint' => 'withdraw-loan', 'inputs' => ['id' => 'loan_id']], $proposed['delete']);
        self::assertContains(['endpoint' => 'close-loan', 'name' => 'Close a loan', 'inputs' => ['id' => 'loan_id']], $proposed['actions']);
    }

    /**
     * @return iterable<string, array{array<string, string>, string}>
     */
    public static function incoherent(): iterable
    {
        yield 'no such endpoint' => [['get: {endpoint: loan,' => 'get: {endpoint: qqqqq,'], 'There is no endpoint "qqqqq".'];
        yield 'another role' => [['update: {endpoint: change-loan,' => 'update: {endpoint: create-loan,'], '"create-loan" is said to create, and not to update.'];
        yield 'no such input' => [['inputs: {id: loan_id, due: due, note: note, policy' => 'inputs: {id: loan_id, duo: due, note: note, policy'], '"change-loan" has no input "duo"; "due" was probably meant.'];
        yield 'no such column' => [['get: {endpoint: loan, inputs: {id: loan_id}}' => 'get: {endpoint: loan, inputs: {id: loanid}}'], 'The table has no column "loanid"; "loan_id" was probably meant.'];
        yield 'an action that reads' => [['{endpoint: close-loan, name' => '{endpoint: loan, name'], '"loan" only reads: it is no action.'];
        yield 'no key' => [["      key: [loan_id]\n      columns:\n        - {name: loan_id, from: \"\$.id\", type: integer}\n        - {name: ref" => "      columns:\n        - {name: loan_id, from: \"\$.id\", type: integer}\n        - {name: ref"], 'Records are changed by their key, and the table has none: say under flatten which columns it is.'];
        foreach (['hash', 'redact', 'encrypt'] as $mask) {
            yield "what is sent would be a mask: $mask" => [['- {name: note, from: "$.note", type: text}' => "- {name: note, from: \"\$.note\", type: text, mask: $mask}"], "\"note\" is kept with mask: $mask, so its mask would be sent to the service, and not its value."];
        }
        $puts = static fn (string $of): array => ['{endpoint: close-loan, name' => "{endpoint: close-loan, puts: {{$of}}, name"];
        yield 'an answer into no column' => [$puts('notes: "$.receipt"'), 'The table has no column "notes"; "note" was probably meant.'];
        yield 'an answer into the key' => [$puts('loan_id: "$.id"'), '"loan_id" is part of the key, by which the row is found.'];
        yield 'an answer into what is masked' => [$puts('ref: "$.receipt"') + ['- {name: ref, from: "$.ref", type: text' => '- {name: ref, mask: hash, from: "$.ref", type: text'], '"ref" is kept with mask: hash, and an answer would stand there as it is.'];
        yield 'no path' => [$puts('note: "$.a["'), 'In brackets comes a quoted name, an index, a slice, * or a ? filter (at character 5 of the path).'];
        yield 'of no action' => [['update: {endpoint: change-loan,' => 'update: {endpoint: change-loan, puts: {note: "$.note"},'], 'Only the answer of an action fills columns; what becomes of the answer of a change says after.'];
        $together = static fn (string $of): array => ['      offered: {' => "      together: {update: {endpoint: change-loan, inputs: {{$of}}}}\n      offered: {"];
        yield 'one that takes no several' => [$together('id: loan_id'), '"change-loan" does not say where in its body several records stand: give its body each, like $.changes.'];
        yield 'several that are not named' => [$together('note: note'), 'Nothing in each record says which one it is: no input is filled by loan_id, its key.'];
        yield 'a batch of another service' => [['      offered: {' => "      batch: {most: 20}\n      offered: {"], 'Only an OData service takes a $batch. Of another one, name an endpoint that takes several records under together.'];
        yield 'no such environment' => [['      offered: {' => "      approval: {in: [nowhere]}\n      offered: {"], 'The source has no environment "nowhere".'];
    }

    /**
     * @param  array<string, string>  $changes
     */
    #[DataProvider('incoherent')]
    public function test_what_does_not_fit_together_is_said_at_its_place(array $changes, string $sentence): void
    {
        try {
            $this->file($changes);
            self::fail('It was taken.');
        } catch (InvalidSourceFile $invalid) {
            self::assertContains($sentence, array_map(static fn ($fault): string => $fault->message, $invalid->faults));
            self::assertStringContainsString('.change', $invalid->faults[0]->path);
        }
    }

    public function test_only_an_answer_that_refuses_is_taken_for_not_done(): void
    {
        $after = static fn (?int $status, ?SendFailure $failing = null, RecordAct $act = RecordAct::Update): string => ChangeState::after($status, $failing, [200, 201, 202, 204], $act)->value;
        foreach ([200 => 'done', 204 => 'done', 400 => 'refused', 401 => 'refused', 404 => 'refused', 408 => 'unknown', 409 => 'refused', 412 => 'conflict', 422 => 'refused', 425 => 'pending', 428 => 'refused', 429 => 'pending', 500 => 'unknown', 502 => 'unknown', 503 => 'unknown', 504 => 'unknown'] as $status => $state) {
            self::assertSame($state, $after($status), (string) $status);
        }
        self::assertSame('done', $after(404, null, RecordAct::Delete));
        foreach (SendFailure::cases() as $failing) {
            $neverLeft = in_array($failing, [SendFailure::Forbidden, SendFailure::Name, SendFailure::Refused, SendFailure::ConnectTimeout, SendFailure::Tls], true);
            self::assertSame($neverLeft ? 'pending' : 'unknown', $after(null, $failing), $failing->value);
        }
    }
}
