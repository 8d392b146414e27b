<?php

declare(strict_types=1);

namespace Tests\Core;

use App\Http\Editing\SettingField;
use App\Http\Endpoints\BodyForm;
use App\Http\Endpoints\FormatForm;
use App\Http\Endpoints\OnwardForm;
use App\Http\Endpoints\PagingFields;
use App\Http\Sources\SchemeFields;
use App\Reservoir\MariaDb\TableDefinition;
use App\Reservoir\TableShape;
use DeepSpring\Access\GivenSecrets;
use DeepSpring\Access\Schemes;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\InputValues;
use DeepSpring\Catalog\KindCatalog;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Onward\End;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\Page;
use DeepSpring\Onward\Pagers;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\SourceFile\SourceSchema;
use DeepSpring\Value\Kind\Kind;
use GuzzleHttp\Psr7\Request;
use PHPUnit\Framework\TestCase;
use Tests\Core\Kinds\LettersPager;
use Tests\Core\Kinds\LinesBody;
use Tests\Core\Kinds\PercentType;
use Tests\Core\Kinds\PostcardImporter;
use Tests\Core\Kinds\StampScheme;
use Tests\Core\Kinds\TallyFormat;

/**
 * A kind costs its class and one line: everything else finds it by what it declares.
 */
final class KindsTest extends TestCase
{
    protected function setUp(): void
    {
        Pagers::family()->add(LettersPager::class);
        Schemes::family()->add(StampScheme::class);
        Types::family()->add(PercentType::class);
        Bodies::family()->add(LinesBody::class);
        Formats::family()->add(TallyFormat::class);
        Importers::family()->add(PostcardImporter::class);
    }

    protected function tearDown(): void
    {
        Pagers::family()->remove('letter');
        Schemes::family()->remove('stamp');
        Types::family()->remove('percent');
        Bodies::family()->remove('lines');
        Formats::family()->remove('tally');
        Importers::family()->remove('postcard');
    }

    public function test_a_pager_of_ones_own_is_validated_shown_and_read(): void
    {
        self::assertSame([], $this->faults(['onward' => ['style' => 'letter', 'letter_as' => 'page', 'last_letter' => 'b']]));
        self::assertSame(['endpoints[0].onward'], $this->faults(['onward' => ['style' => 'letter']]), 'a required setting is missing');
        self::assertSame(['endpoints[0].onward'], $this->faults(['onward' => ['style' => 'letter', 'letter_as' => 'page', 'letters' => 3]]), 'a setting that it does not have');
        self::assertStringContainsString('"letter_as"', SourceSchema::json());
        self::assertSame(['style' => 'letter', 'letter_as' => 'letter'], OnwardForm::apply(['style' => 'letter'], []), 'what a new one begins with');
        self::assertSame(['style' => 'letter', 'letter_as' => 'p', 'last_letter' => 'd'], OnwardForm::apply(['style' => 'letter', 'letter_as' => 'p', 'last_letter' => 'd'], ['style' => 'letter', 'letter_as' => 'x']));
        self::assertSame(['letter parameter', 'last letter'], array_map(static fn (SettingField $field): string => $field->label, PagingFields::of(['style' => 'letter'])->plain));
        self::assertStringContainsString('The parameter that carries the letter.', KindCatalog::text('pagers'));
        self::assertStringContainsString('| `letter` | Page letter |', KindCatalog::markdown('pagers'));
        $walk = OnwardDefinition::of(['style' => 'letter', 'letter_as' => 'page', 'last_letter' => 'b'])->walk(new \DateTimeImmutable('2031-01-01'));
        self::assertSame(['page' => 'a'], $walk->first()->query);
        $second = $walk->next(new Page(1, null, 1, 1, 'http://a.example/?page=a', 'one'));
        self::assertSame(['page' => 'b'], $second instanceof End ? [] : $second->query);
        self::assertInstanceOf(End::class, $walk->next(new Page(2, null, 1, 2, 'http://a.example/?page=b', 'two')));
    }

    public function test_a_scheme_of_ones_own_is_validated_shown_and_applied(): void
    {
        $access = static fn (array $entry): array => ['access' => [$entry]];
        self::assertSame([], $this->faults([], $access(['scheme' => 'stamp', 'ink' => 'red', 'seal' => ['secret' => 'seal']])));
        self::assertSame(['source.access[0].ink'], $this->faults([], $access(['scheme' => 'stamp', 'ink' => 'green', 'seal' => 'x'])));
        self::assertStringContainsString('"stamp"', SourceSchema::json());
        self::assertSame(['scheme' => 'stamp', 'ink' => 'blue', 'seal' => ['secret' => 'seal']], SchemeFields::fresh('stamp'));
        self::assertSame(['ink' => 'select', 'seal' => 'secret'], array_map(static fn (array $field): string => $field['kind'], SchemeFields::of('stamp')));
        self::assertArrayHasKey('stamp', SchemeFields::others());
        self::assertStringContainsString('The colour of the stamp.', KindCatalog::text('schemes'));
        $scheme = Schemes::all([['scheme' => 'stamp', 'ink' => 'red', 'seal' => ['secret' => 'seal']]])[0];
        self::assertSame('red walrus', $scheme->apply(new Request('GET', 'http://a.example'), new GivenSecrets(['seal' => 'walrus']))->getHeaderLine('x-stamp'));
    }

    public function test_a_column_type_of_ones_own_is_validated_shown_and_kept(): void
    {
        $flatten = ['table' => 't', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'share', 'from' => '$.share', 'type' => 'percent']]];
        self::assertSame([], $this->faults(['flatten' => $flatten]));
        self::assertSame('percent', Types::family()->titles()['percent'] ?? null);
        self::assertStringContainsString('"above"', SourceSchema::json());
        self::assertStringContainsString('Whether more than 100 is allowed.', KindCatalog::text('types'));
        $plan = Plan::of($flatten);
        $batch = (new Flattener($plan))->flatten([(object) ['id' => 1, 'share' => '12 %'], (object) ['id' => 2, 'share' => '120 %']]);
        self::assertSame([[['1', '12'], ['2', null]], 'more than 100 %'], [$batch->rows[0], $batch->rejects[0]->reason]);
        self::assertStringContainsString('`share` BIGINT NULL', TableDefinition::create(new TableShape($plan->table), '`t`'));
    }

    public function test_a_body_of_ones_own_is_validated_shown_and_sent(): void
    {
        $ask = static fn (array $body): array => ['ask' => ['path' => '/e', 'method' => 'POST', 'inputs' => [['name' => 'what', 'in' => 'body']], 'body' => $body]];
        self::assertSame([], $this->faults($ask(['as' => 'lines', 'of' => 'Sail {what}', 'from_zero' => true])));
        self::assertSame(['endpoints[0].ask.body.of'], $this->faults($ask(['as' => 'lines', 'of' => ['what' => 1]])), 'it is a text');
        self::assertSame(['endpoints[0].onward.in'], $this->faults($ask(['as' => 'lines', 'of' => '{what}']) + ['onward' => ['style' => 'page', 'send_as' => 'page', 'in' => 'body']]), 'a text has no place for a page');
        self::assertStringContainsString('"from_zero"', SourceSchema::json());
        self::assertSame(['as' => 'lines', 'of' => 'x {what}', 'from_zero' => true], BodyForm::apply(['as' => 'lines', 'of' => 'x {what}', 'from_zero' => '1'], ['as' => 'lines', 'of' => '']));
        self::assertSame(['count from zero'], array_map(static fn (SettingField $field): string => $field->label, BodyForm::flags(['as' => 'lines', 'of' => ''])));
        self::assertStringContainsString('A text with numbers before its lines', KindCatalog::text('bodies'));
        $definition = AskDefinition::of(['path' => '/e', 'method' => 'POST', 'inputs' => [['name' => 'what', 'in' => 'body']], 'body' => ['as' => 'lines', 'of' => 'Sail {what}']]);
        self::assertSame('Sail gull', $definition->body?->encode(InputValues::of($definition, ['what' => ['GULL']]))->bytes);
    }

    public function test_a_format_of_ones_own_is_validated_shown_and_read(): void
    {
        self::assertSame([], $this->faults(['answer' => ['format' => 'tally', 'tally' => ['stroke' => '/']]]));
        self::assertNotSame([], $this->faults(['answer' => ['tally' => ['strokes' => '/']]]), 'a setting that it does not have');
        self::assertStringContainsString('"stroke"', SourceSchema::json());
        self::assertArrayHasKey('tally', FormatForm::choices());
        self::assertSame(['format' => 'tally', 'tally' => ['stroke' => '/']], FormatForm::apply(['as' => 'tally', 'stroke' => '/'], ['format' => 'tally']));
        self::assertSame(['stroke'], array_map(static fn (SettingField $field): string => $field->label, FormatForm::fields(['format' => 'tally'])));
        self::assertStringContainsString('The sign of a stroke', KindCatalog::text('formats'));
        $answer = AnswerDefinition::of(['format' => 'tally', 'tally' => ['stroke' => '/']]);
        self::assertCount(3, $answer->pageOf($answer->read('//|/', 'text/plain'))->values);
        self::assertCount(1, AnswerDefinition::of([])->pageOf(AnswerDefinition::of([])->read('//|/', 'text/x-tally'))->values, 'detected by its media type');
    }

    public function test_what_a_form_does_not_show_of_a_format_stays(): void
    {
        foreach ([
            [['as' => 'auto'], [], []],
            [['as' => 'auto'], ['format' => 'auto', 'csv' => ['header' => true]], ['csv' => ['header' => true], 'format' => 'auto']],
            [['as' => 'csv'], ['records' => '$[*]'], ['records' => '$[*]', 'format' => 'csv']],
            [['as' => 'csv', 'delimiter' => '\\t', 'quote' => '', 'header' => '0', 'encoding' => 'utf-8'], ['format' => 'csv'], ['format' => 'csv', 'csv' => ['delimiter' => "\t", 'header' => false, 'encoding' => 'utf-8']]],
            [['as' => 'csv', 'header' => '', 'quote' => ''], ['format' => 'csv', 'csv' => ['header' => true, 'quote' => '']], ['format' => 'csv', 'csv' => ['quote' => '']]],
            [['as' => 'auto'], ['format' => 'csv', 'csv' => ['quote' => "'"]], ['csv' => ['quote' => "'"], 'format' => 'auto']],
            [['as' => 'no-such-format'], [], []],
        ] as [$form, $answer, $becomes]) {
            self::assertSame($becomes, FormatForm::apply($form, $answer), json_encode([$form, $answer], JSON_THROW_ON_ERROR));
        }
    }

    public function test_an_importer_of_ones_own_is_found(): void
    {
        self::assertSame('Postcard', Importers::read(new ImportInput('Postcard http://a.example'))->title);
        self::assertStringContainsString('An address on a postcard', KindCatalog::text('importers'));
    }

    public function test_without_them_nothing_of_them_is_left(): void
    {
        $this->tearDown();
        self::assertNotSame([], $this->faults(['onward' => ['style' => 'letter', 'letter_as' => 'page']]));
        self::assertStringNotContainsString('letter_as', SourceSchema::json());
    }

    public function test_what_is_written_down_is_what_the_code_says(): void
    {
        $this->tearDown();
        $docs = dirname(__DIR__, 2).'/docs';
        self::assertSame(SourceSchema::json(), file_get_contents("$docs/schema/source-1.json"), 'run ./spring docs');
        $tables = 0;
        foreach ((array) glob("$docs/*.md") as $file) {
            $text = (string) file_get_contents((string) $file);
            self::assertSame(KindCatalog::written($text), $text, "$file: run ./spring docs");
            $tables += substr_count($text, '<!-- kinds:');
        }
        self::assertSame(count(KindCatalog::families()), $tables);
    }

    public function test_every_setting_of_every_kind_says_what_it_is(): void
    {
        foreach (array_keys(KindCatalog::families()) as $family) {
            foreach (KindCatalog::kinds($family) as $kind) {
                self::assertNotSame('', $kind->title.$kind->help);
                foreach ($kind->fields as $field) {
                    self::assertNotSame('', $field->label, "$kind->name.$field->name");
                    self::assertMatchesRegularExpression('/^[A-Z`a-z].{5,}\.?$/s', $field->help, "$kind->name.$field->name");
                }
                self::assertSame(count($kind->fields), count(array_unique(array_map(static fn ($field): string => $field->name, $kind->fields))), $kind->name);
            }
            self::assertContainsOnlyInstancesOf(Kind::class, KindCatalog::kinds($family));
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, mixed>  $source
     * @return list<string> places
     */
    private function faults(array $endpoint, array $source = []): array
    {
        try {
            SourceFile::of([
                'deepspring' => 1, 'source' => $source + ['slug' => 's', 'name' => 'S', 'environments' => ['trial' => ['base' => 'http://127.0.0.1']]],
                'endpoints' => [$endpoint + ['slug' => 'e', 'name' => 'E', 'ask' => ['path' => '/e']]],
            ]);

            return [];
        } catch (InvalidSourceFile $invalid) {
            return array_values(array_unique(array_map(static fn ($fault): string => $fault->path, $invalid->faults)));
        }
    }
}
