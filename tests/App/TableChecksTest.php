<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\CheckResult;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Reservoir\CheckCount;
use App\Reservoir\TableStore;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use DeepSpring\Check\Checks;
use DeepSpring\Flatten\Plan;
use Illuminate\Support\Carbon;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * Rules that tables keep: what is counted in the database, and what becomes of rows that break them.
 */
final class TableChecksTest extends AppTestCase
{
    private const FLATTEN = [
        'table' => 'loans', 'key' => ['loan_id'],
        'columns' => [
            ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'status', 'from' => '$.status', 'type' => 'text'],
            ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2], ['name' => 'lent', 'from' => '$.lent', 'type' => 'date'],
            ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'borrower', 'from' => '$.borrower', 'type' => 'text'],
            ['name' => 'group', 'from' => '$.group', 'type' => 'integer'],
        ],
        'branches' => [['table' => 'loan_items', 'from' => '$.items[*]', 'columns' => [['name' => 'loan_id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'object', 'from' => '$', 'type' => 'text']]]],
    ];

    private const LOANS = [
        ['id' => 1, 'status' => 'open', 'fee' => 10.5, 'lent' => '2030-01-01', 'changed' => '2031-03-10T11:00:00Z', 'borrower' => 'North Quay', 'group' => 5, 'items' => ['NQ-1', 'NQ-2']],
        ['id' => 2, 'status' => 'Open', 'fee' => 0, 'lent' => '2030-02-01', 'changed' => '2031-03-10T10:00:00Z', 'borrower' => 'Old Mill', 'group' => 5, 'items' => ['OM-1', 'om-2', '']],
        ['id' => 3, 'status' => '', 'fee' => -0.01, 'lent' => '2029-12-31', 'changed' => '2031-03-01T10:00:00Z', 'borrower' => 'Pier', 'group' => 6, 'items' => []],
        ['id' => 4, 'status' => null, 'fee' => null, 'lent' => null, 'changed' => null, 'borrower' => null, 'group' => null, 'items' => ['NQ-1']],
        ['id' => 5, 'status' => 'packed ', 'fee' => 99.99, 'lent' => '2030-05-01', 'changed' => '2031-03-10T10:00:00Z', 'borrower' => 'North Quay', 'group' => 7],
    ];

    private ?Child $server = null;

    private string $folder = '';

    private int $port = 0;

    protected function setUp(): void
    {
        parent::setUp();
        $this->folder = sys_get_temp_dir().'/spring-checks-'.getmypid();
        is_dir($this->folder) || mkdir($this->folder);
        $this->port = $port = Lane::ports(9100)->web;
        $this->allow($port);
        $this->server = Child::start('files', [PHP_BINARY, '-S', "127.0.0.1:$port", __DIR__.'/FileServer.php'], ['FILES' => $this->folder], '/dev/null', __DIR__);
        Ports::await($port, 'The files');
        Carbon::setTestNow('2031-03-10 12:00:00');
    }

    protected function tearDown(): void
    {
        Carbon::setTestNow();
        $this->server?->stop(1);
        array_map(unlink(...), (array) glob("$this->folder/{,.}[!.]*", GLOB_BRACE));
        is_dir($this->folder) && rmdir($this->folder);
        parent::tearDown();
    }

    /**
     * @param  list<array<string, mixed>>  $loans  what the list holds from now on
     */
    private function serve(array $loans): void
    {
        file_put_contents("$this->folder/loans.json", json_encode($loans, JSON_PRESERVE_ZERO_FRACTION));
        file_put_contents("$this->folder/borrowers.json", json_encode([['name' => 'North Quay'], ['name' => 'Old Mill'], ['name' => 'north quay']]));
    }

    /**
     * @param  list<array<string, mixed>>  $checks
     * @param  array<string, mixed>  $refresh
     */
    private function list(array $checks, array $refresh = []): Source
    {
        $list = static fn (string $slug, array $flatten, array $keep): array => ['slug' => $slug, 'name' => ucfirst($slug), 'ask' => ['path' => "/$slug.json"], 'answer' => ['records' => '$[*]'], 'flatten' => $flatten] + ($keep === [] ? [] : ['keep' => $keep]);
        $source = $this->draft("http://127.0.0.1:$this->port", [], [
            $list('loans', self::FLATTEN, ['checks' => $checks] + ($refresh === [] ? [] : ['refresh' => $refresh])),
            $list('borrowers', ['table' => 'borrowers', 'key' => ['name'], 'columns' => [['name' => 'name', 'from' => '$.name', 'type' => 'text']]], []),
        ]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    private function read(Source $source, string $slug = 'loans', RunWish $wish = new RunWish): Run
    {
        return app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, $slug), $this->trial(), null, $wish));
    }

    /**
     * @return list<string>
     */
    private function kept(string $sql = 'select loan_id r from loans order by loan_id'): array
    {
        return array_map(static fn (object $row): string => (string) $row->r, $this->rows($sql));
    }

    private static function plain(?string $text): string
    {
        return str_replace("\u{2009}", ' ', (string) $text);
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array{int, int, int|null}, list<int|string>}> check, rows broken looked, ids of the rows concerned
     */
    public static function rules(): iterable
    {
        yield 'never empty' => [['never_empty' => ['status']], [5, 2, null], [3, 4]];
        yield 'never empty, of numbers and days' => [['never_empty' => ['fee', 'lent', 'loan_id']], [5, 1, null], [4]];
        yield 'never empty, of all' => [['never_empty' => ['loan_id']], [5, 0, null], []];
        yield 'one of, to the letter and the blank' => [['one_of' => 'status', 'values' => ['open', 'packed', '']], [5, 2, 4], [2, 5]];
        yield 'one of, numbers' => [['one_of' => 'fee', 'values' => [10.5, '0.00', '99.990']], [5, 1, 4], [3]];
        yield 'range' => [['range' => 'fee', 'at_least' => 0], [5, 1, 4], [3]];
        yield 'range, to the last digit' => [['range' => 'fee', 'at_least' => '-0.01', 'at_most' => '99.98'], [5, 1, 4], [5]];
        yield 'range of days' => [['range' => 'lent', 'at_least' => '2030-01-01', 'at_most' => '2030-04-30'], [5, 2, 4], [3, 5]];
        yield 'range of moments' => [['range' => 'changed', 'at_least' => '2031-03-10T10:00:00Z'], [5, 1, 4], [3]];
        yield 'matches, as a whole' => [['matches' => 'status', 'pattern' => 'open|packed'], [5, 3, 4], [2, 3, 5]];
        yield 'matches, whatever the case' => [['matches' => 'status', 'pattern' => '(?i)open|packed\s?|'], [5, 0, 4], []];
        yield 'matches, with a quote' => [['matches' => 'borrower', 'pattern' => "[^'\"\\\\]+"], [5, 0, 4], []];
        yield 'every' => [['every' => 'fee >= 0'], [5, 2, null], [3, 4]];
        yield 'every, with what is empty' => [['every' => "fee == null or fee >= 0 and status != 'Open'"], [5, 2, null], [2, 3]];
        yield 'unique' => [['unique' => ['borrower']], [5, 2, 4], [1, 5]];
        yield 'unique together' => [['unique' => ['borrower', 'group']], [5, 0, 4], []];
        yield 'unique numbers' => [['unique' => ['group']], [5, 2, 4], [1, 2]];
        yield 'refers' => [['refers' => 'borrower', 'to' => 'borrowers.name'], [5, 1, 4], [3]];
        yield 'a name that is a word of SQL' => [['range' => 'group', 'at_most' => 6], [5, 1, 4], [5]];
        yield 'of a branch' => [['never_empty' => ['object'], 'table' => 'loan_items'], [6, 1, null], ['']];
        yield 'of a branch, which refers to its parent' => [['refers' => 'loan_id', 'to' => 'loans.loan_id', 'table' => 'loan_items'], [6, 0, 6], []];
        yield 'of a branch without a key' => [['unique' => ['object'], 'table' => 'loan_items'], [6, 2, 6], ['NQ-1', 'NQ-1']];
        yield 'of a branch, row by row' => [['every' => 'object == upper(object)', 'table' => 'loan_items'], [6, 1, null], ['om-2']];
        yield 'newest' => [['newest' => 'changed', 'no_older_than' => 'PT1H'], [5, 0, 4], []];
        yield 'rows' => [['rows' => ['at_least' => 6]], [5, 0, null], []];
    }

    /**
     * @param  array<string, mixed>  $rule
     * @param  array{int, int, int|null}  $counts
     * @param  list<int|string>  $concerned
     */
    #[DataProvider('rules')]
    public function test_rows_that_break_a_rule_are_counted_shown_and_left_out(array $rule, array $counts, array $concerned): void
    {
        $this->serve(self::LOANS);
        $source = $this->list([]);
        $this->read($source, 'borrowers');
        self::assertSame([RunState::Done, 11], [($run = $this->read($source))->state, $run->rows]);
        $check = Checks::all([$rule], Plan::of(self::FLATTEN), new \DateTimeImmutable('2031-03-10T12:00:00Z'))[0];
        $tables = KeptTable::query()->where('endpoint_id', $run->endpoint_id)->orderBy('is_branch')->get()->all();
        $rows = app(TableStore::class)->checked($this->trial(), array_values($tables), 5);
        $count = $rows->count([$check])[0];
        self::assertSame([null, $counts], [$count->unknown, [$count->rows, $count->broken, $count->looked]]);
        $id = $check->table === 'loans' ? 'loan_id' : 'object';
        self::assertSame(array_map(strval(...), $concerned), array_column($rows->concerned($check, 50), $id));
        self::assertCount(min(1, count($concerned)), $rows->concerned($check, 1));
        // All of a list at once give what each gives alone.
        $other = Checks::all([['never_empty' => ['lent']]], Plan::of(self::FLATTEN))[0];
        self::assertEquals([new CheckCount(5, 1), $count, new CheckCount(5, 1)], $rows->count([$other, $check, $other]));
        if ($check->check->isOfRows()) {
            // Where rows would be left out, the run leaves out exactly these.
            $source = $this->list([$rule + ['on' => 'drop']]);
            $run = $this->read($source);
            self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
            self::assertSame([count($concerned), $counts[0] - count($concerned)], [$run->rejects, (int) $this->kept("select count(*) r from $check->table")[0]]);
            self::assertSame(count($concerned), RejectedValue::query()->where('run_id', $run->id)->where('table', $check->table)->where('whole_record', true)->count());
            self::assertSame([], array_intersect(array_map(strval(...), $concerned), $check->table === 'loans' ? $this->kept() : []));
            self::assertSame([], $this->kept('select i.loan_id r from loan_items i left join loans l on l.loan_id = i.loan_id where l.loan_id is null'), 'rows of a branch go with their record');
            self::assertSame(KeptTable::query()->where('name', $check->table)->value('rows'), $counts[0] - count($concerned));
        }
    }

    #[DataProvider('rules')]
    public function test_every_rule_can_be_looked_at_where_there_is_no_row(array $rule): void
    {
        $this->serve([]);
        $source = $this->list([$rule + ['on' => 'note']]);
        $this->read($source, 'borrowers');
        $run = $this->read($source);
        self::assertSame([RunState::Done, 0], [$run->state, $run->rows]);
        self::assertSame([isset($rule['newest']) || isset($rule['rows']) ? 'broken' : 'held'], CheckResult::query()->where('run_id', $run->id)->get()->map(static fn (CheckResult $one): string => $one->outcome->value)->all());
    }

    public function test_what_the_database_counts_is_what_counting_by_hand_gives(): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        mt_srand($seed);
        $one = static fn (array $of): mixed => $of[mt_rand(0, count($of) - 1)];
        $texts = ['open', 'Open', 'open ', ' open', '', null, 'ödön', 'ÖDÖN', "two\nlines", 'a_b', 'a%b', "it's", '\\d+', '0731', '731', '港', 'SC-1', 'sc-1', 'SC-12', '10', '9'];
        $numbers = [null, '0', '-0.01', '0.01', '99.99', '100', '-100', '99999.99', '12.3', '12.30'];
        $days = [null, '2029-12-31', '2030-01-01', '2030-06-15', '2031-03-10'];
        $moments = [null, '2030-01-01T00:00:00Z', '2029-12-31T23:59:59.999999Z', '2031-03-10T12:00:00.000001Z', '2031-03-09T10:00:00+02:00'];
        $loans = array_map(static fn (int $id): array => ['id' => $id, 'status' => $one($texts), 'fee' => $one($numbers), 'lent' => $one($days), 'changed' => $one($moments), 'borrower' => $one($texts), 'group' => $one([null, 1, 2, 3, 2147483648]), 'items' => []], range(1, 300));
        $this->serve($loans);
        $source = $this->list([]);
        $this->read($source, 'borrowers');
        self::assertSame(RunState::Done, ($run = $this->read($source))->state, "seed $seed ".json_encode($run->diagnosis));
        $rows = app(TableStore::class)->checked($this->trial(), array_values(KeptTable::query()->where('endpoint_id', $run->endpoint_id)->orderBy('is_branch')->get()->all()), 5);
        $broken = static fn (\Closure $is): int => count(array_filter($loans, $is));
        $utc = static fn (?string $text): ?string => $text === null ? null : (new \DateTimeImmutable($text))->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.u');
        $shared = static function (array $names) use ($loans): int {
            $keys = array_filter(array_map(static fn (array $loan): ?string => in_array(null, array_map(static fn (string $name): mixed => $loan[$name], $names), true) ? null : serialize(array_map(static fn (string $name): mixed => $name === 'fee' ? number_format((float) $loan[$name], 2, '.', '') : $loan[$name], $names)), $loans), static fn (?string $key): bool => $key !== null);

            return array_sum(array_filter(array_count_values($keys), static fn (int $count): bool => $count > 1));
        };
        $cases = [
            [['never_empty' => ['status', 'fee']], $broken(static fn (array $loan): bool => ($loan['status'] ?? '') === '' || $loan['fee'] === null)],
            [['one_of' => 'status', 'values' => ['open', '', "it's", '\\d+', 'ödön', '731']], $broken(static fn (array $loan): bool => $loan['status'] !== null && ! in_array($loan['status'], ['open', '', "it's", '\\d+', 'ödön', '731'], true))],
            [['one_of' => 'fee', 'values' => [0, '12.3', 99.99]], $broken(static fn (array $loan): bool => $loan['fee'] !== null && ! in_array((float) $loan['fee'], [0.0, 12.3, 99.99], true))],
            [['one_of' => 'group', 'values' => [2147483648, '1']], $broken(static fn (array $loan): bool => $loan['group'] !== null && ! in_array($loan['group'], [2147483648, 1], true))],
            [['range' => 'fee', 'at_least' => 0, 'at_most' => '99.99'], $broken(static fn (array $loan): bool => $loan['fee'] !== null && ((float) $loan['fee'] < 0 || (float) $loan['fee'] > 99.99))],
            [['range' => 'lent', 'at_least' => '2030-01-01', 'at_most' => '2030-06-15'], $broken(static fn (array $loan): bool => $loan['lent'] !== null && ($loan['lent'] < '2030-01-01' || $loan['lent'] > '2030-06-15'))],
            [['range' => 'changed', 'at_least' => '2030-01-01T00:00:00Z'], $broken(static fn (array $loan): bool => $loan['changed'] !== null && $utc($loan['changed']) < '2030-01-01 00:00:00.000000')],
            [['matches' => 'status', 'pattern' => 'open|SC-\\d+'], $broken(static fn (array $loan): bool => $loan['status'] !== null && preg_match('/\\A(?:open|SC-\\d+)\\z/u', $loan['status']) !== 1)],
            [['matches' => 'status', 'pattern' => '(?i)ödön|.{2}'], $broken(static fn (array $loan): bool => $loan['status'] !== null && preg_match('/\\A(?:(?i)ödön|.{2})\\z/u', $loan['status']) !== 1)],
            [['every' => "fee > 0 and status != ''"], $broken(static fn (array $loan): bool => ! ($loan['fee'] !== null && (float) $loan['fee'] > 0 && $loan['status'] !== ''))],
            [['unique' => ['status']], $shared(['status'])],
            [['unique' => ['borrower', 'fee']], $shared(['borrower', 'fee'])],
            [['unique' => ['borrower', 'group']], $shared(['borrower', 'group'])],
            [['refers' => 'borrower', 'to' => 'borrowers.name'], $broken(static fn (array $loan): bool => $loan['borrower'] !== null && ! in_array($loan['borrower'], ['North Quay', 'Old Mill', 'north quay'], true))],
        ];
        $checks = array_slice(Checks::all(array_column($cases, 0), Plan::of(self::FLATTEN)), 0, count($cases));
        foreach ($rows->count($checks) as $place => $count) {
            self::assertSame([null, $cases[$place][1]], [$count->unknown, $count->broken], "seed $seed: {$checks[$place]->words()}");
            self::assertCount(min(50, $count->broken), $rows->concerned($checks[$place], 50), "seed $seed: {$checks[$place]->words()}");
        }
    }

    public function test_a_check_stops_new_rows_is_told_or_leaves_rows_out(): void
    {
        $this->serve(array_slice(self::LOANS, 0, 2));
        $rules = [['never_empty' => ['status', 'borrower']], ['range' => 'fee', 'at_least' => 0, 'on' => 'note'], ['every' => 'loan_id < 5', 'on' => 'drop']];
        $source = $this->list($rules);
        self::assertSame(RunState::Done, $this->read($source)->state);
        $this->serve(self::LOANS);
        $run = $this->read($source);
        self::assertSame([RunState::Failed, 'check', '2 of 4 rows of loans have no status or no borrower.'], [$run->state, $run->diagnosis['code'] ?? null, $run->diagnosis['what'] ?? null]);
        self::assertSame([['1', '2'], 2], [$this->kept(), KeptTable::query()->where('name', 'loans')->value('rows')], 'the table is as it was');
        $results = CheckResult::query()->where('run_id', $run->id)->orderBy('id')->get();
        self::assertSame([['drop', 'broken', 1, 5], ['stop', 'broken', 2, 4], ['note', 'broken', 1, 4]], $results->map(static fn (CheckResult $one): array => [$one->acts, $one->outcome->value, $one->broken, $one->rows])->all());
        self::assertSame(['3', '4'], array_column($results[1]->concerned ?? [], 'loan_id'));
        // Whoever knows better says so.
        $again = $this->read($source, wish: new RunWish(takesAny: true));
        self::assertSame([RunState::Done, ['1', '2', '3', '4']], [$again->state, $this->kept()]);
        self::assertSame([
            ['dropped', 'loan_id < 5 does not hold for 1 of 5 rows of loans. It was left out and is among the rejects.', false],
            ['check', '2 of 4 rows of loans have no status or no borrower. They were put in place all the same, as was asked.', false],
            ['check', '1 of 3 rows of loans holds a value in fee below 0.', true],
        ], array_map(array_values(...), $again->findings ?? []));
        self::assertTrue($again->isInDoubt());
        self::assertSame([5, 1], [RejectedValue::query()->where('run_id', $again->id)->get()->map(static fn (RejectedValue $one): int => json_decode($one->value, true)['loan_id'] + 0)->sole(), $again->rejects]);
    }

    public function test_a_check_that_cannot_be_made_is_said_and_stops_nothing(): void
    {
        $this->serve(self::LOANS);
        $rules = [['refers' => 'borrower', 'to' => 'borrowers.name'], ['refers' => 'group', 'to' => 'loans.status'], ['matches' => 'status', 'pattern' => '(a*)*b|.*']];
        $run = $this->read($this->list($rules));
        self::assertSame(RunState::Done, $run->state);
        self::assertSame([
            'Not checked: borrower stands in borrowers.name. The table borrowers is not kept in Trial.',
            'Not checked: group stands in loans.status. group is integer and loans.status is text, so their values cannot be equal. Give both the same type under Flatten.',
        ], array_column($run->findings ?? [], 'sentence'));
        self::assertSame(['unknown', 'unknown', 'held'], CheckResult::query()->where('run_id', $run->id)->orderBy('id')->get()->map(static fn (CheckResult $one): string => $one->outcome->value)->all());
    }

    public function test_two_records_with_one_key_are_seen_though_the_table_holds_one(): void
    {
        $this->serve([...self::LOANS, self::LOANS[0]]);
        $run = $this->read($this->list([['unique' => ['loan_id']]]));
        self::assertSame([RunState::Failed, 'Of loans 1 record came with the key of another one.'], [$run->state, $run->diagnosis['what'] ?? null]);
    }

    public function test_an_increment_is_looked_at_as_the_table_would_be_and_never_half_applied(): void
    {
        $this->serve(self::LOANS);
        $rules = [['unique' => ['group', 'borrower']], ['never_empty' => ['changed'], 'on' => 'drop'], ['rows' => ['at_most' => 5]]];
        $source = $this->list($rules, ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'since']]);
        $first = $this->read($source);
        self::assertSame([RunState::Done, ['1', '2', '3', '5']], [$first->state, $this->kept()]);
        // Only the third changed, to what the first one holds already: alone it breaks nothing.
        $this->serve([['id' => 3, 'changed' => '2031-03-11T10:00:00Z', 'borrower' => 'North Quay', 'group' => 5, 'items' => ['new']] + self::LOANS[2]]);
        $run = $this->read($source);
        self::assertSame([RunState::Failed, '2 of 4 rows of loans share group, borrower with another row.'], [$run->state, $run->diagnosis['what'] ?? null]);
        self::assertSame([['5', '5', '6', '7'], []], [$this->kept('select group_ r from loans order by loan_id'), $this->kept("select object r from loan_items where object = 'new'")]);
        // The same changes come again, since nothing was taken over; one of them without what it must have.
        $this->serve([['id' => 3, 'changed' => '2031-03-11T10:00:00Z', 'group' => 9] + self::LOANS[2], ['id' => 6, 'changed' => null, 'group' => 8] + self::LOANS[4]]);
        $run = $this->read($source);
        self::assertSame([RunState::Done, ['5', '5', '9', '7'], 1], [$run->state, $this->kept('select group_ r from loans order by loan_id'), $run->rejects]);
        self::assertSame(['new' => 0, 'changed' => 1, 'gone' => 0, 'same' => 0, 'older' => 0], $run->changes);
        $this->serve([['id' => 7, 'changed' => '2031-03-12T10:00:00Z', 'group' => 10] + self::LOANS[2], ['id' => 8, 'changed' => '2031-03-12T10:00:00Z', 'group' => 11] + self::LOANS[2]]);
        self::assertSame('loans would have 6 rows; at most 5 are asked.', self::plain($this->read($source)->diagnosis['what'] ?? null));
        self::assertCount(4, $this->kept());
    }

    public function test_results_are_kept_over_time_by_the_rule_and_not_by_its_place(): void
    {
        $this->serve(self::LOANS);
        $this->read($this->list([['never_empty' => ['lent'], 'on' => 'note']]));
        $this->serve(array_slice(self::LOANS, 0, 3));
        $this->read($this->list([['range' => 'fee', 'at_most' => 100], ['never_empty' => ['lent'], 'on' => 'stop']]));
        $mark = Checks::all([['never_empty' => ['lent']]], Plan::of(self::FLATTEN))[0]->mark;
        self::assertSame([['broken', '1 of 5 rows of loans has no lent.'], ['held', 'Holds for all 3 rows.']], CheckResult::query()->where('mark', $mark)->orderBy('id')->get()->map(static fn (CheckResult $one): array => [$one->outcome->value, $one->sentence])->all());
    }
}
