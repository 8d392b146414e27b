<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Endpoints\BodyForm;
use App\Http\Endpoints\EndpointForm;
use App\Http\Endpoints\FlattenTables;
use App\Http\Endpoints\OnwardForm;
use DeepSpring\SourceFile\InvalidSourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What the sheet of an endpoint sends → the document, field by field.
 */
final class EndpointFormTest extends TestCase
{
    private const ENDPOINT = ['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans']];

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}> form, `keep` as it was, what it becomes
     */
    public static function refreshes(): iterable
    {
        $kept = static fn (array $refresh): array => ['refresh' => $refresh];
        $by = ['every' => '30 6 * * 1-5', 'zone' => 'Europe/Oslo'];
        yield 'by hand, as nothing was said' => [['choice' => 'manual'], [], []];
        yield 'by hand, as it was said' => [['choice' => 'manual'], $kept(['every' => 'manual']), $kept(['every' => 'manual'])];
        yield 'a choice that was made just now' => [['choice' => 'minutes'], [], $kept(['every' => '*/15 * * * *'])];
        yield 'by the hour' => [['choice' => 'hours', 'step' => '1', 'minute' => '5', 'hour' => '7', 'until' => '19', 'days' => '1-6', 'zone' => 'Europe/Oslo'], [], $kept(['every' => '5 7-19 * * 1-6', 'zone' => 'Europe/Oslo'])];
        yield 'daily' => [['choice' => 'day', 'at' => '06:30', 'days' => '1-5', 'zone' => 'UTC'], [], $kept(['every' => '30 6 * * 1-5'])];
        yield 'the same in words changes nothing' => [['choice' => 'day', 'at' => '06:30', 'days' => '1-5', 'zone' => 'Europe/Oslo'], $kept($by), $kept($by)];
        yield 'monthly' => [['choice' => 'month', 'at' => '04:00', 'date' => 'L'], [], $kept(['every' => '0 4 L * *'])];
        yield 'cron begins with what the words stood for' => [['choice' => 'cron'], $kept($by), $kept($by)];
        yield 'cron, written' => [['choice' => 'cron', 'cron' => ' 0 7,9 * * * '], $kept($by), $kept(['every' => '0 7,9 * * *', 'zone' => 'Europe/Oslo'])];
        yield 'cron that is none is told, not mended' => [['choice' => 'cron', 'cron' => 'at noon'], [], $kept(['every' => 'at noon'])];
        yield 'by hand again' => [['choice' => 'manual', 'after' => '', 'older_than' => ''], $kept($by + ['after' => ['houses'], 'when_asked' => ['older_than' => 'PT1H']]), []];
        yield 'after other tables' => [['choice' => 'manual', 'after' => ' borrowers,houses borrowers '], [], $kept(['after' => ['borrowers', 'houses']])];
        yield 'when somebody reads it' => [['choice' => 'manual', 'older_than' => 'PT1H', 'wait' => '1'], [], $kept(['when_asked' => ['older_than' => 'PT1H', 'wait' => true]])];
        yield 'waiting for nothing is not written' => [['choice' => 'manual', 'older_than' => '', 'wait' => '1'], [], []];
        yield 'in an environment' => [['choice' => 'day', 'at' => '06:30', 'in' => 'trial, production'], [], $kept(['every' => '30 6 * * *', 'in' => ['trial', 'production']])];
        yield 'what the form does not show stays' => [['choice' => 'day', 'at' => '06:30'], ['refresh' => ['mode' => 'whole', 'unchanged' => 'never', 'after' => ['houses'], 'in' => ['trial']]], ['refresh' => ['mode' => 'whole', 'unchanged' => 'never', 'every' => '30 6 * * *', 'after' => ['houses'], 'in' => ['trial']]]];
        $changes = ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'PT5M']];
        $since = ['mode' => 'incremental', 'by' => 'changed', 'column' => 'changed', 'send_as' => 'since', 'format' => 'iso', 'overlap' => 'PT5M'];
        yield 'only what changed, chosen just now' => [['choice' => 'manual', 'mode' => 'incremental'], [], $kept(['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'changed_since', 'overlap' => 'PT5M']])];
        yield 'only what changed, as it was' => [$since, $kept($changes), $kept($changes)];
        yield 'only what changed, in other words' => [['format' => 'epoch', 'since_zone' => 'Europe/Oslo', 'overlap' => '', 'place' => 'header', 'sweep' => '0 3 * * 0', 'deleted_column' => 'gone', 'deleted_is' => 'true'] + $since, $kept($changes),
            $kept(['mode' => 'incremental', 'since' => ['column' => 'changed', 'format' => 'epoch', 'zone' => 'Europe/Oslo', 'send_as' => 'since', 'in' => 'header'], 'deleted' => ['column' => 'gone'], 'sweep' => '0 3 * * 0'])];
        yield 'by a key, chosen just now' => [['mode' => 'incremental', 'by' => 'key'] + $since, $kept($changes), $kept(['mode' => 'incremental', 'since' => ['column' => 'id', 'send_as' => 'after']])];
        yield 'by a key' => [['mode' => 'incremental', 'by' => 'key', 'column' => 'id', 'send_as' => 'after', 'overlap' => '20', 'deleted_column' => 'state', 'deleted_is' => 'withdrawn'], $kept(['mode' => 'incremental', 'since' => ['column' => 'id', 'send_as' => 'after']]), $kept(['mode' => 'incremental', 'since' => ['column' => 'id', 'overlap' => 20, 'send_as' => 'after'], 'deleted' => ['column' => 'state', 'is' => 'withdrawn']])];
        yield 'by a window' => [['mode' => 'incremental', 'by' => 'window', 'window' => 'P7D', 'until_as' => 'to', 'send_as' => 'from'], $kept(['mode' => 'incremental', 'since' => ['window' => 'P1D', 'send_as' => 'x']]), $kept(['mode' => 'incremental', 'since' => ['window' => 'P7D', 'until_as' => 'to', 'send_as' => 'from']])];
        yield 'another way takes nothing of the one before' => [['by' => 'marker'] + $since, $kept($changes), $kept(['mode' => 'incremental', 'since' => ['marker' => '$.next_marker', 'send_as' => 'marker']])];
        yield 'all of it again' => [['mode' => 'whole'] + $since, $kept($changes + ['sweep' => '0 3 * * 0']), []];
        $sweep = $changes + ['sweep' => '0 3 * * 0', 'zone' => 'Europe/Oslo'];
        yield 'by hand, but for all of it in a zone' => [['choice' => 'manual', 'sweep' => '0 3 * * 0'] + $since, $kept($sweep), $kept($sweep)];
        foreach ([0, 1, false, true, 'withdrawn', '0'] as $is) {
            $deleted = $changes + ['deleted' => ['column' => 'state', 'is' => $is]];
            yield 'deleted where it is '.json_encode($is) => [['deleted_column' => 'state', 'deleted_is' => is_bool($is) ? (string) json_encode($is) : (string) $is] + $since, $kept($deleted), $kept($deleted)];
        }
        yield 'how much is not shown and stays' => [['choice' => 'manual'], $kept($changes), $kept($changes)];
        yield 'lists where texts were expected' => [['choice' => ['x'], 'after' => ['y'], 'zone' => []], $kept($by), $kept(['every' => '30 6 * * 1-5'])];
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $expected
     */
    #[DataProvider('refreshes')]
    public function test_when_a_table_is_refreshed(array $form, array $was, array $expected): void
    {
        $flatten = ['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'gone', 'from' => '$.gone', 'type' => 'boolean'], ['name' => 'state', 'from' => '$.state']]];
        $endpoint = (new EndpointForm(self::ENDPOINT + ['flatten' => $flatten] + ($was === [] ? [] : ['keep' => $was])))->apply(['path' => '/loans', 'refresh' => $form]);
        self::assertEquals($expected, $endpoint['keep'] ?? []);
        self::assertSame($expected['refresh']['deleted']['is'] ?? null, $endpoint['keep']['refresh']['deleted']['is'] ?? null);
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}> row, what it was, what it becomes
     */
    public static function inputs(): iterable
    {
        $row = static fn (array $more): array => $more + ['name' => 'status', 'in' => 'query', 'was' => '0'];
        $was = ['name' => 'status', 'in' => 'query'];
        yield 'nothing' => [$row([]), $was, $was];
        yield 'a test value' => [$row(['value' => 'open']), $was, $was + ['try' => 'open']];
        yield 'a test value with blanks that are meant' => [$row(['value' => ' open ']), $was, $was + ['try' => ' open ']];
        yield 'an emptied test value' => [$row(['value' => '']), $was + ['try' => 'open'], $was];
        yield 'a constant' => [$row(['value' => 'open', 'filled' => 'fixed']), $was, $was + ['fixed' => 'open']];
        yield 'a constant that is empty' => [$row(['value' => '', 'filled' => 'fixed']), $was, $was + ['fixed' => '']];
        yield 'a constant that is tried now' => [$row(['value' => 'open', 'filled' => 'caller']), $was + ['fixed' => 'open'], $was + ['try' => 'open']];
        yield 'a number' => [$row(['value' => '50', 'type' => 'integer']), $was, $was + ['type' => 'integer', 'try' => 50]];
        yield 'a number with a sign' => [$row(['value' => '-5', 'type' => 'integer']), $was, $was + ['type' => 'integer', 'try' => -5]];
        yield 'digits that no number keeps' => [$row(['value' => '007', 'type' => 'integer']), $was, $was + ['type' => 'integer', 'try' => '007']];
        yield 'a number that is none' => [$row(['value' => 'many', 'type' => 'integer']), $was, $was + ['type' => 'integer', 'try' => 'many']];
        yield 'true' => [$row(['value' => 'true', 'type' => 'boolean']), $was, $was + ['type' => 'boolean', 'try' => true]];
        yield 'neither true nor false' => [$row(['value' => 'yes', 'type' => 'boolean']), $was, $was + ['type' => 'boolean', 'try' => 'yes']];
        yield 'the type that is usual is not written' => [$row(['type' => 'text']), $was, $was];
        yield 'the type that is usual stays written' => [$row(['type' => 'text']), $was + ['type' => 'text'], $was + ['type' => 'text']];
        yield 'several values' => [$row(['value' => 'open, packed']), $was + ['many' => 'comma'], $was + ['many' => 'comma', 'try' => ['open', 'packed']]];
        yield 'line breaks' => [$row(['value' => "a\r\nb"]), $was, $was + ['try' => "a\nb"]];
        yield 'line breaks that were of another kind' => [$row(['value' => "a\nb"]), $was + ['try' => "a\r\nb"], $was + ['try' => "a\r\nb"]];
        yield 'several values with commas in them' => [$row(['value' => 'a, b, c']), $was + ['many' => 'repeat', 'try' => ['a, b', 'c']], $was + ['many' => 'repeat', 'try' => ['a, b', 'c']]];
        yield 'several values that are others now' => [$row(['value' => 'a, b, d']), $was + ['many' => 'repeat', 'try' => ['a, b', 'c']], $was + ['many' => 'repeat', 'try' => ['a', 'b', 'd']]];
        yield 'another name in the request' => [$row(['details' => '1', 'send_as' => 'state', 'send_empty' => 'bare']), $was, $was + ['send_empty' => 'bare', 'send_as' => 'state']];
        yield 'its own name in the request' => [$row(['details' => '1', 'send_as' => 'status']), $was + ['send_as' => 'state'], $was];
        yield 'details that were not sent stay' => [$row(['value' => 'x']), $was + ['about' => 'state', 'private' => true, 'choices' => ['x', 'y']], $was + ['about' => 'state', 'private' => true, 'choices' => ['x', 'y'], 'try' => 'x']];
        yield 'details that were emptied go' => [$row(['details' => '1', 'about' => '', 'choices' => '']), $was + ['about' => 'state', 'private' => true, 'choices' => ['x']], $was];
        yield 'details' => [$row(['details' => '1', 'many' => 'repeat', 'default' => 'a,b', 'choices' => 'a, b ,,c', 'about' => ' which ', 'private' => '1', 'send_empty' => '1', 'required' => '1']), $was, $was + ['many' => 'repeat', 'default' => ['a', 'b'], 'choices' => ['a', 'b', 'c'], 'about' => 'which', 'private' => true, 'send_empty' => true, 'required' => true]];
        yield 'choices keep the type they had' => [$row(['details' => '1', 'choices' => '1,2']), $was + ['choices' => [1, 2]], $was + ['choices' => [1, 2]]];
        yield 'what the path needs is required' => [['name' => 'id', 'in' => 'path', 'was' => '0'], ['name' => 'id', 'in' => 'path'], ['name' => 'id', 'in' => 'path', 'required' => true]];
        yield 'a constant is not required of anybody' => [$row(['details' => '1', 'required' => '1', 'filled' => 'fixed', 'value' => 'x']), $was, $was + ['fixed' => 'x']];
        yield 'another name' => [$row(['name' => 'state', 'value' => 'x']), $was + ['about' => 'kept'], ['name' => 'state', 'in' => 'query', 'about' => 'kept', 'try' => 'x']];
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $becomes
     */
    #[DataProvider('inputs')]
    public function test_an_input_becomes(array $row, array $was, array $becomes): void
    {
        $endpoint = ['ask' => ['path' => '/loans', 'inputs' => [$was]]] + self::ENDPOINT;
        $changed = (new EndpointForm($endpoint))->apply(['path' => '/loans', 'inputs' => [$row]]);
        self::assertEquals([$becomes], $changed['ask']['inputs'] ?? []);
        self::assertSame(array_map(gettype(...), $becomes), array_intersect_key(array_map(gettype(...), $changed['ask']['inputs'][0]), $becomes));
    }

    public function test_an_input_without_a_name_is_removed_and_a_new_one_takes_nothing_over(): void
    {
        $endpoint = ['ask' => ['path' => '/loans', 'inputs' => [['name' => 'a', 'in' => 'query', 'about' => 'first'], ['name' => 'b', 'in' => 'query', 'about' => 'second']]]] + self::ENDPOINT;
        $changed = (new EndpointForm($endpoint))->apply(['path' => '/loans', 'inputs' => [['name' => '', 'was' => '0'], ['name' => 'b', 'in' => 'query', 'was' => '1'], ['name' => 'c', 'in' => 'header', 'was' => '']]]);
        self::assertEquals([['name' => 'b', 'in' => 'query', 'about' => 'second'], ['name' => 'c', 'in' => 'header']], $changed['ask']['inputs']);
    }

    public function test_rows_that_are_arrays_stand_in_the_fields_with_their_names(): void
    {
        $rows = ['rows' => ['names' => '$.columns[*].name', 'data' => '$.data[*]']];
        $endpoint = self::ENDPOINT + ['answer' => $rows + ['format' => 'json']];
        $form = static fn (array $fields): array => (new EndpointForm($endpoint))->apply($fields + ['path' => '/loans'])['answer'] ?? [];
        self::assertEquals($rows + ['format' => 'json'], $form(['records' => '$.data[*]', 'row_names' => '$.columns[*].name']), 'as the sheet shows it');
        self::assertEquals(['rows' => ['names' => '$.names[*]', 'data' => '$.rows[*]'], 'format' => 'json'], $form(['records' => '$.rows[*]', 'row_names' => '$.names[*]']));
        self::assertEquals(['records' => '$.data[*]', 'format' => 'json'], $form(['records' => '$.data[*]', 'row_names' => '']), 'without names they are records');
        self::assertEquals(['format' => 'json'], $form(['records' => '', 'row_names' => '$.columns[*].name']));
    }

    public function test_what_is_no_sheet_changes_nothing(): void
    {
        $endpoint = self::ENDPOINT + ['answer' => ['records' => '$.data[*]'], 'flatten' => ['table' => 't', 'columns' => []]];
        self::assertSame($endpoint, (new EndpointForm($endpoint))->apply(['name' => 'Other', 'records' => '']));
    }

    public function test_headers_are_lines_and_a_line_that_is_none_is_named(): void
    {
        $form = new EndpointForm(self::ENDPOINT);
        self::assertSame(['prefer' => 'return=representation', 'x-a' => 'b: c'], $form->apply(['path' => '/loans', 'headers_text' => "prefer: return=representation\r\n\r\n  x-a :  b: c  \n"])['ask']['headers']);
        self::assertArrayNotHasKey('headers', $form->apply(['path' => '/loans', 'headers_text' => "\n \n"])['ask']);
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage('"no header" is no header: a name, a colon and a value.');
        $form->apply(['path' => '/loans', 'headers_text' => 'no header']);
    }

    #[DataProvider('queryParts')]
    public function test_what_an_input_stands_for_is_read_kept_or_named(string $typed, ?array $was, ?array $becomes): void
    {
        $endpoint = self::ENDPOINT;
        $endpoint['ask']['inputs'] = [['name' => 'house', 'in' => 'query'], ['name' => 'status', 'in' => 'query'] + ($was === null ? [] : ['stands_for' => $was])];
        $row = static fn (string $name, string $number, string $stands): array => ['name' => $name, 'in' => 'query', 'was' => $number, 'details' => '1', 'stands_for' => $stands];
        $apply = static fn (): array => (new EndpointForm($endpoint))->apply(['path' => '/loans', 'inputs' => [$row('house', '0', ''), $row('status', '1', $typed)]])['ask']['inputs'];
        if ($becomes === null && trim($typed) !== '') {
            try {
                $apply();
                self::fail('It was taken.');
            } catch (InvalidSourceFile $invalid) {
                self::assertSame('endpoints[0].ask.inputs[1].stands_for', $invalid->faults[0]->path);
                self::assertStringStartsWith('"'.trim($typed).'" is not understood. Write a column', $invalid->faults[0]->message);
            }

            return;
        }
        $inputs = $apply();
        self::assertSame($becomes, $inputs[1]['stands_for'] ?? null);
        self::assertArrayNotHasKey('stands_for', $inputs[0]);
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>|null, array<string, mixed>|null}> typed, before, after; null after for what is refused or taken away
     */
    public static function queryParts(): iterable
    {
        $status = ['column' => 'status', 'operator' => '='];
        yield 'a column' => [' status = ', null, $status];
        yield 'a number of rows' => ['Rows', $status, ['rows' => true]];
        yield 'an order' => ['order due: due_at, due desc: -due_at', null, ['order' => ['due' => 'due_at', 'due desc' => '-due_at']]];
        yield 'taken away' => [' ', $status, null];
        yield 'not an operator' => ['status like', $status, null];
        yield 'two columns' => ['status = house', null, null];
        yield 'an order without values' => ['order due', $status, null];
        yield 'words' => ['whatever it is', null, null];
        yield 'what no field can say, unchanged' => ['order due: a, b', ['order' => ['due' => 'a, b']], ['order' => ['due' => 'a, b']]];
        yield 'the same, changed' => ['order due: a, c', ['order' => ['due' => 'a, b']], null];
    }

    public function test_a_method_or_role_that_there_is_not_is_passed_over(): void
    {
        $endpoint = ['does' => 'create', 'ask' => ['path' => '/loans', 'method' => 'POST']] + self::ENDPOINT;
        $changed = (new EndpointForm($endpoint))->apply(['path' => ' /loans/{id} ', 'method' => 'FETCH', 'does' => 'eat', 'name' => ' ']);
        self::assertSame(['POST', 'create', '/loans/{id}', 'Loans'], [$changed['ask']['method'], $changed['does'], $changed['ask']['path'], $changed['name']]);
        $changed = (new EndpointForm($endpoint))->apply(['path' => '/loans', 'method' => 'MERGE', 'does' => 'update', 'name' => 'Change']);
        self::assertSame(['MERGE', 'update', 'Change'], [$changed['ask']['method'], $changed['does'], $changed['name']]);
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>}>
     */
    public static function sources(): iterable
    {
        yield 'a path' => ['$.borrower.name', ['from' => '$.borrower.name']];
        yield 'a name' => ['due', ['from' => '$.due']];
        yield 'the parent' => ['parent $.id', ['parent' => '$.id']];
        yield 'a parent further up' => ['parent $.id up 2', ['parent' => '$.id', 'up' => 2]];
        yield 'the place' => ['position', ['position' => 1]];
        yield 'the place further up' => ['position up 1', ['position' => 1, 'up' => 1]];
        yield 'the name of a member' => ['member', ['member' => true]];
        yield 'the answer around' => ['envelope $.meta.at', ['envelope' => '$.meta.at']];
        yield 'what was sent' => ['input house', ['input' => 'house']];
        yield 'a formula' => ['= id * 2', ['compute' => 'id * 2']];
        yield 'a path that ends like one further up' => ["\$['a up 9']", ['from' => "\$['a up 9']"]];
    }

    /**
     * @param  array<string, mixed>  $source
     */
    #[DataProvider('sources')]
    public function test_where_a_column_comes_from_is_read_and_shown_the_same(string $typed, array $source): void
    {
        self::assertSame($source, EndpointForm::sourceOf($typed));
        self::assertSame($source, EndpointForm::sourceOf(EndpointForm::fromOf($source)));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}> form, what it was, what it becomes
     */
    public static function columns(): iterable
    {
        $was = ['name' => 'fee', 'from' => '$.fee', 'type' => 'text'];
        yield 'nothing' => [[], $was, $was];
        yield 'another type' => [['type' => 'integer'], $was, ['type' => 'integer'] + $was];
        yield 'a decimal has two places unless it is said' => [['type' => 'decimal'], $was, ['type' => 'decimal', 'scale' => 2] + $was];
        yield 'a decimal with places' => [['type' => 'decimal', 'scale' => '4'], $was, ['type' => 'decimal', 'scale' => 4] + $was];
        yield 'places that are no number' => [['type' => 'decimal', 'scale' => 'x'], ['type' => 'decimal', 'scale' => 3] + $was, ['type' => 'decimal', 'scale' => 3] + $was];
        yield 'places are of decimals alone' => [['type' => 'float'], ['type' => 'decimal', 'scale' => 3] + $was, ['type' => 'float'] + $was];
        yield 'a zone is of moments alone' => [['type' => 'text'], ['type' => 'datetime', 'zone' => 'Europe/Berlin'] + $was, $was];
        yield 'what is usual is not written' => [['on_bad' => 'reject-value', 'mask' => 'none', 'many' => ''], $was + ['on_bad' => 'fail', 'mask' => 'hash', 'many' => 'join'], $was];
        yield 'settings' => [['on_bad' => 'fail', 'mask' => 'hash', 'many' => 'join', 'with' => '; ', 'comment' => 'in pounds'], $was, $was + ['many' => 'join', 'with' => '; ', 'on_bad' => 'fail', 'mask' => 'hash', 'comment' => 'in pounds']];
        yield 'how one type is written says nothing of another' => [['type' => 'date'], ['type' => 'integer', 'read_as' => '1,000'] + $was, ['type' => 'date'] + $was];
        yield 'how it is written is said again' => [['type' => 'date', 'read_as' => 'dd.MM.yyyy'], ['type' => 'integer', 'read_as' => '1,000'] + $was, ['type' => 'date', 'read_as' => 'dd.MM.yyyy'] + $was];
        yield 'another source' => [['from' => 'parent $.id'], $was, ['name' => 'fee', 'parent' => '$.id', 'type' => 'text']];
        yield 'a formula keeps no path' => [['from' => '= fee * 2', 'type' => ''], ['name' => 'fee', 'from' => '$.fee'], ['name' => 'fee', 'compute' => 'fee * 2']];
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $becomes
     */
    #[DataProvider('columns')]
    public function test_a_column_becomes(array $form, array $was, array $becomes): void
    {
        self::assertEquals($becomes, (new EndpointForm(self::ENDPOINT))->columnOf($form, $was));
    }

    public function test_tables_are_changed_by_their_number_and_nothing_else_is_lost(): void
    {
        $branch = ['table' => 'loan_items', 'from' => '$.items[*]', 'key' => ['loan'], 'columns' => [['name' => 'loan', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'item', 'from' => '$.code', 'type' => 'text', 'comment' => 'as printed']]];
        $flatten = ['table' => 'loans', 'key' => ['id'], 'where' => 'id > 0', 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']], 'branches' => [$branch], 'leave_out' => ['$.note']];
        $endpoint = self::ENDPOINT + ['flatten' => $flatten];
        $column = static fn (array $one, int $was, string $key = ''): array => ['name' => $one['name'], 'from' => EndpointForm::fromOf($one), 'type' => $one['type'], 'was' => (string) $was, 'key' => $key];
        $main = ['table' => 'loans', 'columns' => [$column($flatten['columns'][0], 0, '1')]];
        $form = ['path' => '/loans', 'tables' => [$main, ['table' => 'loan_parts', 'from' => '$.parts[*]', 'columns' => [$column($branch['columns'][0], 0, '1'), $column($branch['columns'][1], 1, '1')]]]];
        $changed = (new EndpointForm($endpoint))->apply($form)['flatten'];
        self::assertEquals(['table' => 'loan_parts', 'from' => '$.parts[*]', 'key' => ['loan', 'item']] + $branch, $changed['branches'][0]);
        self::assertEquals(array_diff_key($flatten, ['branches' => 1]), array_diff_key($changed, ['branches' => 1]));
        $without = (new EndpointForm($endpoint))->apply(['path' => '/loans', 'tables' => [$main, '']])['flatten'];
        self::assertSame([], $without['branches'] ?? []);
        self::assertSame(['$.note'], $without['leave_out']);
        $empty = (new EndpointForm($endpoint))->apply(['path' => '/loans', 'tables' => [['table' => 'loans', 'columns' => [['name' => '', 'from' => '', 'was' => '0']]]]]);
        self::assertSame([], $empty['flatten']['columns'] ?? []);
    }

    public function test_the_first_column_makes_a_table(): void
    {
        $changed = (new EndpointForm(self::ENDPOINT))->apply(['path' => '/loans', 'tables' => [['table' => 'loans', 'columns' => [['name' => 'id', 'from' => 'id', 'type' => 'integer', 'was' => '', 'key' => '1']]]]]);
        self::assertEquals(['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]], $changed['flatten']);
        self::assertArrayNotHasKey('flatten', (new EndpointForm(self::ENDPOINT))->apply(['path' => '/loans', 'tables' => [['table' => 'loans', 'columns' => []]]]));
    }

    public function test_a_table_is_changed_and_dropped_by_its_number(): void
    {
        $flatten = ['table' => 'a', 'columns' => [], 'branches' => [['table' => 'b', 'from' => '$.b[*]', 'columns' => []], ['table' => 'c', 'from' => '$.c[*]', 'columns' => []]]];
        self::assertSame(['a', 'b', 'd'], array_column(\DeepSpring\Flatten\Plan::tablesIn(FlattenTables::change($flatten, 2, static fn (array $one): array => ['table' => 'd'] + $one)), 'table'));
        self::assertSame(['a', 'c'], array_column(\DeepSpring\Flatten\Plan::tablesIn(FlattenTables::change($flatten, 1, static fn (): ?array => null)), 'table'));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>|null, array<string, mixed>|null}>
     */
    public static function bodies(): iterable
    {
        $json = ['as' => 'json', 'of' => (object) ['due' => (object) ['input' => 'due']]];
        yield 'none' => [['as' => ''], $json, null];
        yield 'a kind that there is not' => [['as' => 'smoke'], $json, null];
        yield 'a tree' => [['as' => 'json', 'of' => '{"a": 1}'], $json, ['as' => 'json', 'of' => (object) ['a' => 1]]];
        yield 'an empty text is an empty document' => [['as' => 'json', 'of' => ' '], $json, ['as' => 'json', 'of' => new \stdClass]];
        yield 'what may be left out, where it is there' => [['as' => 'json', 'of' => '{"a": {"b": 1}}', 'optional' => ['$.a', '$.gone'], 'keep_empty' => '1'], $json, ['as' => 'json', 'of' => (object) ['a' => (object) ['b' => 1]], 'optional' => ['$.a'], 'keep_empty' => true]];
        yield 'a form has neither' => [['as' => 'form', 'of' => '{"a": {"input": "b"}}', 'optional' => ['$.a'], 'keep_empty' => '1'], ['as' => 'form', 'of' => new \stdClass], ['as' => 'form', 'of' => (object) ['a' => (object) ['input' => 'b']]]];
        yield 'a text as it is' => [['as' => 'text', 'of' => "a {b}\r\nc"], ['as' => 'text', 'of' => ''], ['as' => 'text', 'of' => "a {b}\nc"]];
        yield 'from a tree to a text' => [['as' => 'xml', 'of' => '{"a": 1}'], $json, ['as' => 'xml', 'of' => '{{"a": 1}}']];
        yield 'from a text to a tree' => [['as' => 'json', 'of' => '{"a": 1}'], ['as' => 'text', 'of' => 'x'], ['as' => 'json', 'of' => (object) ['a' => 1]]];
        yield 'from a text that is no tree' => [['as' => 'json', 'of' => 'x'], ['as' => 'text', 'of' => 'x'], ['as' => 'json', 'of' => new \stdClass]];
        yield 'a first one' => [['as' => 'text'], null, ['as' => 'text', 'of' => '']];
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>|null  $was
     * @param  array<string, mixed>|null  $becomes
     */
    #[DataProvider('bodies')]
    public function test_a_body_becomes(array $form, ?array $was, ?array $becomes): void
    {
        self::assertEquals($becomes, BodyForm::apply($form, $was));
    }

    public function test_a_body_is_shown_so_that_it_is_read_again_the_same(): void
    {
        foreach (['{"a": {"b": [1, 2, {"c": null}]}, "long": "'.str_repeat('x', 120).'", "e": 1.0, "ü": "ß/"}', '[]', '{}', '[{"input": "a"}, {"literal": {"text": 1}}]', '"x"', '1.50'] as $text) {
            $tree = json_decode($text, false, 512, JSON_BIGINT_AS_STRING);
            $shown = BodyForm::text(['as' => 'json', 'of' => $tree]);
            self::assertEquals($tree, json_decode($shown, false, 512, JSON_BIGINT_AS_STRING), $shown);
        }
        self::assertSame('', BodyForm::text(null));
        self::assertSame("<a>\n</a>", BodyForm::text(['as' => 'xml', 'of' => "<a>\n</a>"]));
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage('The body');
        BodyForm::apply(['as' => 'json', 'of' => '{"a": '], ['as' => 'json', 'of' => new \stdClass]);
    }

    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}>
     */
    public static function onwards(): iterable
    {
        yield 'a style that was just chosen with a setting' => [['style' => 'page', 'send_as' => 'ignored'], ['style' => 'none'], ['style' => 'page', 'send_as' => 'ignored']];
        yield 'a style alone begins with what is usual' => [['style' => 'page'], ['style' => 'none'], ['style' => 'page', 'send_as' => 'page']];
        yield 'its settings' => [['style' => 'page', 'send_as' => ' p ', 'first' => '0', 'total' => '$.total', 'size_as' => 'per_page', 'size' => '100'], ['style' => 'page', 'send_as' => 'page'], ['style' => 'page', 'send_as' => 'p', 'first' => 0, 'total' => '$.total', 'size_as' => 'per_page', 'size' => 100]];
        yield 'a number that is none is said by the schema' => [['style' => 'page', 'send_as' => 'p', 'size' => 'many'], ['style' => 'page', 'send_as' => 'p'], ['style' => 'page', 'send_as' => 'p', 'size' => 'many']];
        yield 'statuses' => [['style' => 'page', 'send_as' => 'p', 'end_on' => '404, 410  x'], ['style' => 'page', 'send_as' => 'p'], ['style' => 'page', 'send_as' => 'p', 'end_on' => [404, 410, 'x']]];
        yield 'what is not sent stays' => [['style' => 'cursor', 'send_as' => 'after'], ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'max_pages' => 5], ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'max_pages' => 5]];
        yield 'what is emptied goes' => [['style' => 'cursor', 'send_as' => 'after', 'next' => ''], ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'], ['style' => 'cursor', 'send_as' => 'after']];
        yield 'none' => [['style' => ''], ['style' => 'page', 'send_as' => 'p'], ['style' => 'none']];
    }

    /**
     * @param  array<string, mixed>  $form
     * @param  array<string, mixed>  $was
     * @param  array<string, mixed>  $becomes
     */
    #[DataProvider('onwards')]
    public function test_paging_becomes(array $form, array $was, array $becomes): void
    {
        self::assertEquals($becomes, OnwardForm::apply($form, $was));
    }

    public function test_what_is_taken_from_the_first_answer_is_lines(): void
    {
        $onward = OnwardForm::apply(['style' => 'partition', 'take' => "handle: $.handle\n\n page : $.page "], ['style' => 'partition']);
        self::assertSame(['handle' => '$.handle', 'page' => '$.page'], $onward['take'] ?? null);
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage('"handle" is not understood');
        OnwardForm::apply(['style' => 'partition', 'take' => 'handle'], ['style' => 'partition']);
    }
}
