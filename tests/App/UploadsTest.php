<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Note;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\Upload;
use App\Notes\NoteBook;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Sources\SourceStore;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Files of rows that are handed in become tables like any other.
 */
final class UploadsTest extends AppTestCase
{
    private function csv(int $rows, string $more = ''): string
    {
        $text = "consignment,house,post_code,insured\n";
        for ($row = 1; $row <= $rows; $row++) {
            $text .= sprintf("FT-%05d,%s,%05d,%d.50\n", $row, ['north quay', '"salt farm, east"'][$row % 2], $row, $row * 10);
        }

        return $text.$more;
    }

    private function handIn(string $name, string $content): Source
    {
        $path = (string) $this->actingAs($this->person())->post('/sources', ['files' => [UploadedFile::fake()->createWithContent($name, $content)], 'start' => '', 'name' => '', 'slug' => ''])->assertSessionHasNoErrors()->assertRedirect()->headers->get('Location');
        self::assertMatchesRegularExpression('~/sources/[a-z0-9-]+/endpoints/rows$~D', $path);

        return Source::query()->latest('id')->firstOrFail();
    }

    private function keep(Source $source): Run
    {
        app(SourceStore::class)->publish($source->refresh(), null);

        return $this->refresh($source->refresh(), 'rows');
    }

    public function test_a_csv_file_is_a_table_with_typed_columns_and_is_read_again_when_another_takes_its_place(): void
    {
        $source = $this->handIn('Freight list 2030.csv', $this->csv(250));
        self::assertSame(['freight-list-2030', 'Freight list 2030'], [$source->slug, $source->name]);
        self::assertTrue(Tryout::query()->latest('id')->firstOrFail()->succeeded);
        $this->get('/sources/freight-list-2030/endpoints/rows')->assertOk()->assertSee('Rows of the file')->assertSee('Freight list 2030.csv');
        $run = $this->keep($source);
        self::assertSame([RunState::Done, 250, 0], [$run->state, $run->rows, $run->rejects], (string) json_encode($run->diagnosis));
        $table = KeptTable::query()->where('endpoint_id', $run->endpoint_id)->firstOrFail();
        self::assertEquals(['consignment' => 'text', 'house' => 'text', 'post_code' => 'text', 'insured' => 'decimal'], array_column($table->columns, 'type', 'name'));
        self::assertSame(['salt farm, east', '00007', '70.50'], array_values(get_object_vars($this->rows("select house, post_code, insured from `$table->name` where consignment = 'FT-00007'")[0])));
        // The same file again: nothing has changed, and it costs nothing.
        self::assertStringContainsString('Nothing has changed', (string) $this->refresh($source, 'rows')->ended);
        $this->post('/sources/freight-list-2030/upload', ['file' => UploadedFile::fake()->createWithContent('newer.csv', $this->csv(260))])->assertRedirect();
        $run = app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame([RunState::Done, 260], [$run->state, $run->rows]);
        self::assertSame(1, Upload::query()->count());
        $this->get('/sources/freight-list-2030')->assertOk()->assertSee('newer.csv');
        // Nothing was looked up, nothing connected, and nothing is said to have been.
        $this->followingRedirects()->post('/sources/freight-list-2030/test')->assertOk()->assertSee('file found')->assertDontSee('name found')->assertDontSee('connected');
        // It does not age.
        KeptTable::query()->update(['refreshed_at' => now()->subDays(9)]);
        app(NoteBook::class)->align($this->trial());
        self::assertSame(0, Note::query()->count());
        $this->actingAs($this->person(Role::Analyst))->post('/sources/freight-list-2030/upload', ['file' => UploadedFile::fake()->createWithContent('x.csv', $this->csv(1))])->assertForbidden();
    }

    public function test_a_sheet_is_a_table_and_every_row_of_it_is_there(): void
    {
        $source = $this->handIn('valuations.xlsx', (string) file_get_contents(base_path('tests/Core/Describe/Spreadsheet/valuations.xlsx')));
        $this->get('/sources/valuations/endpoints/rows')->assertSee('sheet Valuations');
        $run = $this->keep($source);
        self::assertSame([RunState::Done, 4, 0], [$run->state, $run->rows, $run->rejects]);
        self::assertSame(['00007', '00704', '20211', '99999'], array_column($this->rows('select post_code from valuations order by post_code'), 'post_code'));
    }

    public function test_its_rows_are_looked_up_elsewhere(): void
    {
        $this->keep($this->handIn('crates.csv', "crate,house\nCR-001,north\nCR-002,south\nCR-003,north\n"));
        $source = $this->source('crate-loggers');
        app(SourceStore::class)->edit($source, null, static function (array $document): array {
            $document['endpoints'][] = ['slug' => 'of-crate', 'name' => 'Of a crate', 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => '/readings', 'inputs' => [['name' => 'crate', 'in' => 'query', 'required' => true], ['name' => 'per_page', 'in' => 'query', 'fixed' => '2'], ['name' => 'since', 'in' => 'query', 'fixed' => '2030-12-14T00:00:00Z']]], 'answer' => ['records' => '$[*]'],
                'flatten' => ['table' => 'of_crates', 'columns' => [['name' => 'house', 'row' => 'house'], ['name' => 'reading', 'from' => '$.reading', 'type' => 'integer']]], 'keep' => ['inputs' => ['crate' => ['from' => ['table' => 'crates', 'column' => 'crate']]]]];

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source->refresh(), 'of-crate'), $this->trial(), null));
        self::assertSame([RunState::Done, 3], [$run->state, $run->lookup['rows'] ?? 0], (string) json_encode($run->diagnosis));
        self::assertSame(['north', 'south'], array_column($this->rows('select distinct house from of_crates order by house'), 'house'));
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function useless(): iterable
    {
        yield 'nothing' => ['rows.csv', '', 'The file rows.csv has no rows.'];
        yield 'an old spreadsheet' => ['rows.csv', "\xD0\xCF\x11\xE0\xA1\xB1\x1A\xE1".str_repeat("\0", 40), 'An older spreadsheet'];
        yield 'a zip of something else' => ['rows.xlsx', "PK\x03\x04".str_repeat('x', 100), 'This is no XLSX file'];
        yield 'a text that is called a sheet' => ['rows.xlsx', "\0\0\0", 'neither CSV nor XLSX'];
    }

    #[DataProvider('useless')]
    public function test_what_is_no_file_of_rows_is_said_and_leaves_nothing(string $name, string $content, string $said): void
    {
        $this->actingAs($this->person())->followingRedirects()->from('/sources/new')->post('/sources', ['files' => [UploadedFile::fake()->createWithContent($name, $content)], 'start' => ''])->assertOk()->assertSee($said);
        self::assertSame([0, 0], [Upload::query()->count(), Source::query()->count()]);
    }

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function addresses(): iterable
    {
        yield 'the file' => ['/trial/crates', 200];
        yield 'another name' => ['/trial/loans', 404];
        yield 'another environment' => ['/production/crates', 404];
        yield 'above' => ['/trial/../trial/crates', 404];
        yield 'nothing' => ['/', 404];
    }

    #[DataProvider('addresses')]
    public function test_only_the_file_itself_is_found_under_its_address(string $path, int $status): void
    {
        $this->handIn('crates.csv', "crate\nCR-001\nCR-002\n");
        $source = $this->draft('http://'.Upload::HOST, [], [['slug' => 'any', 'name' => 'Any', 'ask' => ['path' => $path]]]);
        $try = app(\App\Runs\Tries::class)->endpoint($this->endpoint($source, 'any'), $source->current(), $source->current()->endpoint('any') ?? self::fail(), $this->trial(), null);
        self::assertSame($status, $try->exchanges()->latest('id')->firstOrFail()->status);
    }

    public function test_it_cannot_be_written_to(): void
    {
        $this->handIn('crates.csv', "crate\nCR-001\nCR-002\n");
        $source = $this->draft('http://'.Upload::HOST, [], [['slug' => 'any', 'name' => 'Any', 'does' => 'delete', 'ask' => ['method' => 'DELETE', 'path' => '/trial/crates']]]);
        $try = app(\App\Runs\Tries::class)->endpoint($this->endpoint($source, 'any'), $source->current(), $source->current()->endpoint('any') ?? self::fail(), $this->trial(), null);
        self::assertSame(405, $try->exchanges()->latest('id')->firstOrFail()->status);
        self::assertSame(1, Upload::query()->count());
    }

    public function test_two_files_of_one_name_are_two(): void
    {
        $this->handIn('crates.csv', "crate\nCR-001\nCR-002\n");
        $second = $this->handIn('crates.csv', "crate\nCR-003\nCR-004\n");
        self::assertSame('crates-2', $second->slug);
        self::assertSame(['crates', 'crates-2'], Upload::query()->orderBy('id')->pluck('slug')->all());
    }

    public function test_a_file_that_nobody_reads_any_more_goes_after_a_day(): void
    {
        $read = $this->handIn('crates.csv', "crate\nCR-001\nCR-002\n");
        $gone = $this->handIn('houses.csv', "house\nnorth\nsouth\n");
        app(SourceStore::class)->publish($read->refresh(), null);
        $gone->delete();
        Artisan::call('spring:tidy');
        self::assertSame(2, Upload::query()->count());
        $this->travel(25)->hours();
        Artisan::call('spring:tidy');
        self::assertSame(['crates'], Upload::query()->pluck('slug')->all());
    }

    public function test_the_command_line_takes_them_too(): void
    {
        $file = base_path('tests/Core/Describe/Spreadsheet/valuations.xlsx');
        $this->person();
        self::assertSame(0, Artisan::call('spring:take', ['what' => $file, '--keep' => true, '--sheet' => 'Second', '--environment' => 'trial']));
        self::assertStringContainsString('1 row', Artisan::output());
        self::assertSame(2, Artisan::call('spring:take', ['what' => $file, '--sheet' => 'Prices', '--environment' => 'trial']));
        self::assertSame(2, Artisan::call('spring:take', ['what' => '/nowhere/rows.csv']));
    }
}
