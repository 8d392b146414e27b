<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Editing\Asked;
use App\Http\Endpoints\EndpointSheets;
use App\Http\Endpoints\Step\EndpointContext;
use App\Http\Endpoints\Step\EndpointStep;
use App\Http\Endpoints\Step\EndpointSteps;
use App\Http\Shaping\ShapeForm;
use App\Http\Shaping\ShapeHistory;
use App\Http\Shaping\ShapeStep;
use App\Http\Sources\SourceStep;
use App\Models\Role;
use App\Models\Source;
use App\Runs\Tries;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * What the buttons of the sheets do to a document, each by its name.
 */
final class EndpointStepsTest extends AppTestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}> what was sent, parts before, parts after
     */
    public static function steps(): iterable
    {
        $ask = static fn (array ...$inputs): array => ['ask' => ['path' => '/loans'] + ($inputs === [] ? [] : ['inputs' => $inputs])];
        $status = ['name' => 'status', 'in' => 'query'];
        yield 'a first input' => [['do' => 'add-input'], $ask(), $ask(['name' => 'input_1', 'in' => 'query'])];
        yield 'an input with a name that is free' => [['do' => 'add-input'], $ask(['name' => 'input_1', 'in' => 'body']), $ask(['name' => 'input_1', 'in' => 'body'], ['name' => 'input_2', 'in' => 'query'])];
        yield 'nothing but the shape' => [['do' => 'reshape'], $ask($status), $ask($status)];
        yield 'a role that reads by GET' => [['do' => 'does'], ['does' => 'get', 'ask' => ['path' => '/', 'method' => 'DELETE']], ['does' => 'get', 'ask' => ['path' => '/', 'method' => 'GET']]];
        yield 'a method that is usual stays' => [['do' => 'does'], ['does' => 'list', 'ask' => ['path' => '/', 'method' => 'POST']], ['does' => 'list', 'ask' => ['path' => '/', 'method' => 'POST']]];
        yield 'a role that creates has a body' => [['do' => 'does'], ['does' => 'create', 'ask' => ['path' => '/']], ['does' => 'create', 'ask' => ['path' => '/', 'method' => 'POST', 'body' => ['as' => 'json', 'of' => new \stdClass]]]];
        yield 'a body that is there stays' => [['do' => 'does'], ['does' => 'update', 'ask' => ['path' => '/', 'method' => 'PUT', 'body' => ['as' => 'text', 'of' => 'x']]], ['does' => 'update', 'ask' => ['path' => '/', 'method' => 'PUT', 'body' => ['as' => 'text', 'of' => 'x']]]];
        yield 'the records by a path' => [['do' => 'records-at', 'at' => '$.data[*]'], ['answer' => ['records' => '$', 'format' => 'json']], ['answer' => ['records' => '$.data[*]', 'format' => 'json']]];
        yield 'the records by no path' => [['do' => 'records-at'], ['answer' => ['records' => '$']], ['answer' => ['records' => '$']]];
        yield 'a sample goes' => [['do' => 'sample-forget'], ['answer' => ['records' => '$[*]', 'sample' => [1]]], ['answer' => ['records' => '$[*]']]];
        yield 'a sample of JSON says where its records are' => [['do' => 'sample', 'sample_text' => '{"data": [{"id": 1}], "n": 1}'], [], ['answer' => ['records' => '$.data[*]', 'sample' => (object) ['data' => [(object) ['id' => 1]], 'n' => 1]]]];
        yield 'a sample keeps where the records are' => [['do' => 'sample', 'sample_text' => '[{"id": 1}]'], ['answer' => ['records' => '$']], ['answer' => ['records' => '$', 'sample' => [(object) ['id' => 1]]]]];
        yield 'a sample of lines' => [['do' => 'sample', 'sample_text' => 'id integer 7'], [], ['answer' => ['sample' => (object) ['id' => 7]]]];
        yield 'a node as the test value' => [['do' => 'node-input', 'input' => 'status', 'value' => ' out '], $ask($status + ['fixed' => 'in']), $ask(['try' => ' out '] + $status)];
        yield 'a node as one of several test values' => [['do' => 'node-input', 'input' => 'status', 'value' => 'out'], $ask($status + ['many' => 'comma']), $ask(['try' => ['out'], 'many' => 'comma'] + $status)];
        yield 'a node for an input that there is not' => [['do' => 'node-input', 'input' => 'gone', 'value' => 'out'], $ask($status), $ask($status)];
        yield 'a node as the cursor' => [['do' => 'node-cursor', 'node' => '$.next', 'value' => 'c_6s1'], ['onward' => ['style' => 'page', 'send_as' => 'page', 'size' => 50, 'size_as' => 'limit']], ['onward' => ['style' => 'cursor', 'send_as' => 'page', 'next' => '$.next', 'size' => 50, 'size_as' => 'limit']]];
        yield 'a node that is an address' => [['do' => 'node-cursor', 'node' => '$.next', 'value' => 'https://loans.example/2'], [], ['onward' => ['style' => 'next-link', 'link' => '$.next']]];
        yield 'a node that is a path' => [['do' => 'node-cursor', 'node' => '$.next', 'value' => '/loans?after=2'], [], ['onward' => ['style' => 'next-link', 'link' => '$.next']]];
        yield 'a node as a column' => [['do' => 'node-column', 'node' => '$.data[3].borrower.name', 'type' => 'text'], ['answer' => ['records' => '$.data[*]'], 'flatten' => ['table' => 't', 'columns' => []]], ['answer' => ['records' => '$.data[*]'], 'flatten' => ['table' => 't', 'columns' => [['name' => 'borrower_name', 'from' => '$.borrower.name', 'type' => 'text']]]]];
        yield 'a node as a column with a name that is taken' => [['do' => 'node-column', 'node' => '$.data[0].id', 'type' => 'nonsense'], ['answer' => ['records' => '$.data[*]'], 'flatten' => ['table' => 't', 'columns' => [['name' => 'id']]]], ['answer' => ['records' => '$.data[*]'], 'flatten' => ['table' => 't', 'columns' => [['name' => 'id'], ['name' => 'id_2', 'from' => '$.id', 'type' => 'text']]]]];
        yield 'a proposal that there is not' => [['do' => 'onward', 'at' => '7'], ['onward' => ['style' => 'none']], ['onward' => ['style' => 'none']]];
        yield 'a column for a table that there is not' => [['do' => 'add-column', 'at' => '0'], [], []];
        yield 'columns of no records' => [['do' => 'propose'], ['flatten' => ['table' => 't', 'columns' => []]], ['flatten' => ['table' => 't', 'columns' => []]]];
        yield 'the test values for keeping' => [['do' => 'keep-as-tried'], ['ask' => ['path' => '/', 'inputs' => [$status + ['try' => 'open']]], 'keep' => ['inputs' => ['status' => 'packed']]], ['ask' => ['path' => '/', 'inputs' => [$status + ['try' => 'open']]], 'keep' => ['inputs' => ['status' => 'open']]]];
    }

    /**
     * @param  array<string, mixed>  $sent
     * @param  array<string, mixed>  $before
     * @param  array<string, mixed>  $after
     */
    #[DataProvider('steps')]
    public function test_a_step_changes_just_what_it_says(array $sent, array $before, array $after): void
    {
        $rest = ['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans']];
        self::assertEquals($after + $rest, $this->step($sent)->apply($before + $rest, $this->context()));
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string}>
     */
    public static function refusals(): iterable
    {
        yield 'a node outside the records' => [['do' => 'node-column', 'node' => '$.total'], '$.total is not inside a record.'];
        yield 'no answer to begin from' => [['do' => 'body-from-get'], 'There is no answer of an endpoint that gets one of these records. Try that one first.'];
        yield 'a sample that is none' => [['do' => 'sample', 'sample_text' => '{"a": '], 'Give JSON, or one field a line'];
        yield 'a sample that is too large' => [['do' => 'sample', 'sample_text' => str_repeat('x', 1_000_001)], 'A sample of more than 1 MB is not needed'];
    }

    /**
     * @param  array<string, mixed>  $sent
     */
    #[DataProvider('refusals')]
    public function test_what_cannot_be_done_is_said(array $sent, string $sentence): void
    {
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage($sentence);
        $this->step($sent)->apply(['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans'], 'answer' => ['records' => '$.data[*]']], $this->context());
    }

    public function test_every_step_has_a_name_of_its_own_and_what_has_none_is_no_step(): void
    {
        $names = [];
        foreach ((array) glob(base_path('app/Http/Endpoints/Step/*.php')) as $file) {
            $class = 'App\\Http\\Endpoints\\Step\\'.basename((string) $file, '.php');
            if (is_a($class, EndpointStep::class, true) && $class !== EndpointStep::class) {
                $names[] = $class::name();
                self::assertInstanceOf($class, $this->step(['do' => $class::name()]), 'it is in the list');
            }
        }
        self::assertSame([count($names), 19], [count(array_unique($names)), count($names)]);
        foreach ([[], ['do' => ''], ['do' => 'no-such'], ['do' => ['add-input']]] as $sent) {
            self::assertNull(EndpointSteps::chosen($this->asked($sent)));
        }
    }

    public function test_an_uploaded_sample_comes_before_a_typed_one(): void
    {
        $file = UploadedFile::fake()->createWithContent('sample.json', '[{"from": "file"}]');
        $step = EndpointSteps::chosen(new Asked(Request::create('/', 'POST', ['do' => 'sample', 'sample_text' => '[{"from": "text"}]'], [], ['sample_file' => $file])));
        self::assertEquals([(object) ['from' => 'file']], $step?->apply(['ask' => ['path' => '/']], $this->context())['answer']['sample'] ?? null);
    }

    public function test_columns_and_paging_are_proposed_from_what_came(): void
    {
        $source = $this->source();
        app(Tries::class)->endpoint($row = $this->endpoint($source, 'loans'), $source->current(), $source->current()->endpoint('loans') ?? self::fail(), $this->trial(), null);
        $context = new EndpointContext(app(EndpointSheets::class), $row, $source->current(), $this->trial());
        $endpoint = array_diff_key($source->current()->endpoint('loans')->endpoint ?? [], ['flatten' => 1, 'onward' => 1]);
        $proposed = $this->step(['do' => 'propose'])->apply($endpoint, $context)['flatten'];
        self::assertSame('loans', $proposed['table']);
        self::assertContains('due', array_column($proposed['columns'], 'name'));
        $paging = $this->step(['do' => 'onward', 'at' => '0'])->apply($endpoint, $context)['onward'];
        self::assertSame('cursor', $paging['style']);
        $again = $this->step(['do' => 'add-column', 'at' => '0'])->apply(['flatten' => $proposed] + $endpoint, $context)['flatten'];
        self::assertCount(count($proposed['columns']) + 1, $again['columns']);
        $records = $this->step(['do' => 'records', 'at' => '0'])->apply(array_diff_key($endpoint, ['answer' => 1]), $context);
        self::assertArrayHasKey('ask', $records);
    }

    public function test_a_step_of_a_source_changes_its_schemes_and_addresses(): void
    {
        $two = ['access' => [['scheme' => 'bearer'], ['scheme' => 'api-key']], 'environments' => ['trial' => ['base' => 'http://t'], 'production' => ['base' => 'http://p']]];
        $apply = fn (array $sent): array => SourceStep::chosen($asked = $this->asked($sent))?->apply($two, $asked, 'trial') ?? self::fail();
        self::assertSame(['api-key', 'bearer'], array_column($apply(['do' => 'earlier', 'scheme' => '1'])['access'], 'scheme'));
        self::assertSame($two, $apply(['do' => 'earlier', 'scheme' => '0']));
        self::assertSame($two, $apply(['do' => 'earlier', 'scheme' => '9']));
        self::assertSame(['bearer', 'api-key', 'basic'], array_column($apply(['do' => 'add-scheme', 'scheme' => 'basic'])['access'], 'scheme'));
        self::assertSame($two, $apply(['do' => 'add-scheme', 'scheme' => 'no-such']));
        self::assertSame('http://p', $apply(['do' => 'copy', 'from' => 'production'])['environments']['trial']['base']);
        self::assertSame($two, $apply(['do' => 'copy', 'from' => 'gone']));
        self::assertSame($two, $apply(['do' => 'reshape']));
        self::assertNull(SourceStep::chosen($this->asked(['do' => 'explode'])));
    }

    public function test_a_step_of_shaping_and_what_undoes_it(): void
    {
        $source = $this->source();
        $history = new ShapeHistory($this->endpoint($source, 'loans'), $this->person(Role::Builder));
        $records = [(object) ['id' => 1, 'who' => (object) ['name' => 'Gull Tower'], 'items' => [(object) ['code' => 'a'], (object) ['code' => 'b']]]];
        $apply = fn (array $sent, array $was): array => (new ShapeForm($this->asked($sent), $sent))->apply($was, $records, 'loans', $history);
        $first = $apply(['do' => 'propose'], []);
        self::assertSame('loans', $first['table']);
        $steps = [
            [['do' => 'rename', 'table' => '0', 'column' => '0', 'name' => 'loan'], static fn (array $now): mixed => $now['columns'][0]['name'], 'loan'],
            [['do' => 'compute', 'table' => '0', 'name' => 'twice', 'expression' => 'id * 2'], static fn (array $now): mixed => end($now['columns'])['compute'], 'id * 2'],
            [['do' => 'table', 'table' => '0', 'name' => 'lent', 'where' => 'id > 0'], static fn (array $now): mixed => [$now['table'], $now['where']], ['lent', 'id > 0']],
            [['do' => 'set', 'table' => '0', 'column' => '0', 'type' => 'text', 'key' => '1'], static fn (array $now): mixed => [$now['columns'][0]['type'], $now['key']], ['text', ['id']]],
            [['do' => 'set', 'table' => '0', 'column' => '99', 'type' => 'text'], static fn (array $now): mixed => $now, $first],
            [['do' => 'drop', 'table' => '0', 'column' => '0'], static fn (array $now): mixed => count($now['columns']), count($first['columns']) - 1],
            [['do' => 'drop-table', 'table' => '0'], static fn (array $now): mixed => $now, $first],
            [['do' => 'no-such'], static fn (array $now): mixed => $now, $first],
        ];
        foreach ($steps as [$sent, $look, $wanted]) {
            self::assertEquals($wanted, $look($apply($sent, $first)), $sent['do']);
        }
        self::assertSame($first, $apply(['do' => 'undo'], $first), 'there is nothing to undo');
        $history->did($first);
        $renamed = $apply(['do' => 'rename', 'table' => '0', 'column' => '0', 'name' => 'loan'], $first);
        self::assertEquals($first, $apply(['do' => 'undo'], $renamed));
        self::assertEquals($renamed, $apply(['do' => 'redo'], $first));
        self::assertSame([true, true, false], [ShapeStep::Undo->isOfHistory(), ShapeStep::Redo->isOfHistory(), ShapeStep::AddField->isOfHistory()]);
    }

    /**
     * @param  array<string, mixed>  $sent
     */
    private function asked(array $sent): Asked
    {
        return new Asked(Request::create('/', 'POST', $sent));
    }

    /**
     * @param  array<string, mixed>  $sent
     */
    private function step(array $sent): EndpointStep
    {
        return EndpointSteps::chosen($this->asked($sent)) ?? self::fail('There is no step '.json_encode($sent));
    }

    private function context(): EndpointContext
    {
        /** @var Source|null $source */
        $source = Source::query()->where('slug', 'loans-desk')->first();
        $source ??= $this->source();

        return new EndpointContext(app(EndpointSheets::class), $this->endpoint($source, 'loans'), $source->current(), $this->trial());
    }
}
