<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Source;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * The commands as a shell sees them: standard output, standard error, exit code.
 */
final class CommandsTest extends AppTestCase
{
    public function test_import_try_refresh_query_and_export_work_together(): void
    {
        $file = tempnam(sys_get_temp_dir(), 'spring').'.yaml';
        file_put_contents($file, strtr((string) file_get_contents(database_path('demo/stores.yaml')), ['http://127.0.0.1:8401' => self::$standinsAddress]));
        $this->person();
        [$code, $out, $errors] = $this->artisanProcess('spring:import', $file, '--secret', 'key=st-demo-0b8e5c71f9a2d446');
        self::assertSame([0, ''], [$code, $out], $errors);
        self::assertStringContainsString('published as version 1', $errors);
        [$code, $out] = $this->artisanProcess('spring:try', 'stores/positions', '--json');
        self::assertSame(0, $code);
        self::assertSame(640, json_decode($out)->total);
        [$code, $out, $errors] = $this->artisanProcess('spring:refresh', 'stores/positions');
        self::assertSame([0, ''], [$code, $out], $errors);
        self::assertStringContainsString('640 rows kept, 0 rejects. 8 pages', str_replace("\u{2009}", '', $errors));
        [$code, $out, $errors] = $this->artisanProcess('spring:try', 'stores/positions', '--columns');
        self::assertSame(0, $code, $errors);
        $proposed = \Symfony\Component\Yaml\Yaml::parse($out);
        self::assertSame('$.positions[*]', is_array($proposed) ? $proposed['answer']['records'] : '');
        self::assertNotEmpty(is_array($proposed) ? $proposed['flatten']['columns'] : []);
        [$code, $out, $errors] = $this->artisanProcess('spring:refresh', 'positions', '--from-kept');
        self::assertSame(0, $code, $errors);
        self::assertStringContainsString('640 rows kept', $errors);
        self::assertStringContainsString('without a request', $errors);
        [$code, $out] = $this->artisanProcess('spring:runs', (string) \App\Models\Run::query()->max('id'), '--rejects');
        self::assertSame([0, "table,column,record,where,value,why,left_out\r\n"], [$code, $out]);
        [$code, $out] = $this->artisanProcess('spring:query', 'select position_id, locked from positions order by 1 limit 2', '--as', 'json');
        self::assertSame([0, [['position_id' => '00001', 'locked' => 0], ['position_id' => '00002', 'locked' => 1]]], [$code, json_decode($out, true)]);
        [$code, $out] = $this->artisanProcess('spring:query', 'select position_id from positions order by 1 limit 1', '--as', 'csv');
        self::assertSame([0, "position_id\r\n00001\r\n"], [$code, $out]);
        [$code, $out] = $this->artisanProcess('spring:export', 'stores');
        self::assertSame(0, $code);
        self::assertEquals(Source::query()->firstOrFail()->current()->document, \DeepSpring\SourceFile\SourceFile::read($out)->document);
        self::assertStringNotContainsString('st-demo', $out);
        unlink($file);
    }

    /**
     * @return iterable<string, array{list<string>, int, string}>
     */
    public static function refusals(): iterable
    {
        yield 'no argument' => [['spring:try'], 2, 'Not enough arguments'];
        yield 'an unknown option' => [['spring:query', 'select 1', '--nope'], 2, 'nope'];
        yield 'an unknown source' => [['spring:export', 'nope'], 2, 'There is no source "nope". There are: loans-desk'];
        yield 'an unknown endpoint' => [['spring:try', 'loans-desk/nope'], 2, 'It has: loans, loan'];
        yield 'an unknown table' => [['spring:refresh', 'nope'], 2, 'There is no table "nope"'];
        yield 'an unknown format' => [['spring:query', 'select 1', '--as', 'word'], 2, '--as takes table, csv'];
        yield 'an input of the wrong type' => [['spring:try', 'loans-desk/loan', '--in', 'id=x'], 2, 'not a whole number'];
        yield 'an input that is none' => [['spring:try', 'loans-desk/loan', '--in', 'nope=1'], 2, 'not an input of this endpoint'];
        yield 'a file that is not there' => [['spring:import', '/nowhere.yaml'], 2, 'cannot be read'];
        yield 'a file with a fault' => [['spring:import', __FILE__], 1, 'CommandsTest.php: '];
        yield 'an API that says no' => [['spring:try', 'loans-desk/loan', '--in', 'id=1'], 1, 'No such loan'];
        yield 'a query that writes' => [['spring:query', 'drop table loans'], 1, 'starts with select'];
    }

    /**
     * @param  list<string>  $words
     */
    #[DataProvider('refusals')]
    public function test_a_refusal_has_its_code_a_line_and_nothing_on_standard_output(array $words, int $wanted, string $says): void
    {
        $this->person();
        $this->source();
        [$code, $out, $errors] = $this->artisanProcess(...$words);
        self::assertSame([$wanted, ''], [$code, $out], $errors);
        self::assertStringContainsString($says, $errors);
        self::assertStringNotContainsString('Stack trace', $errors);
    }

    public function test_classes_that_most_requests_need_are_named_for_the_web_server(): void
    {
        self::assertSame(0, Artisan::call('spring:classes'));
        $files = json_decode(Artisan::output(), true);
        self::assertIsArray($files);
        self::assertGreaterThan(300, count($files));
        $named = require base_path('vendor/composer/autoload_files.php');
        foreach ($files as $file) {
            // Ours are read anew when they change, and what is loaded by name would be declared twice.
            self::assertStringStartsWith(base_path('vendor/'), $file);
            self::assertFileExists($file);
            self::assertNotContains($file, $named);
        }
        self::assertContains(base_path('vendor/laravel/framework/src/Illuminate/Routing/Router.php'), $files);
    }
}
