<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\Tree\DocumentNodes;
use App\Local\Account;
use App\Local\Folders;
use App\Local\MixedSuites;
use App\Local\Ports;
use App\Local\SideBySide;
use App\Local\Trouble;
use App\Reservoir\MariaDb\RowFile;
use App\View\JsonTree;
use App\View\Ladder;
use App\View\Show;
use DeepSpring\Access\BaseAddress;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Process\Process;

final class SmallPartsTest extends AppTestCase
{
    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function addresses(): iterable
    {
        $table = ['api.saltmarsh.example/v2' => 'https://api.saltmarsh.example/v2', 'https://api.saltmarsh.example/v2/' => 'https://api.saltmarsh.example/v2', 'http://127.0.0.1:8401/x?y=1#z' => 'http://127.0.0.1:8401/x', '127.0.0.1:8401' => 'http://127.0.0.1:8401', 'localhost:3000/api' => 'http://localhost:3000/api', 'https://me:pw@api.saltmarsh.example' => 'https://api.saltmarsh.example', 'https:/api.saltmarsh.example' => 'https://api.saltmarsh.example', '//api.saltmarsh.example' => 'https://api.saltmarsh.example', 'https://api.saltmarsh.example' => null, '' => null, 'two words' => null];
        foreach ($table as $typed => $meant) {
            yield (string) $typed => [(string) $typed, $meant];
        }
    }

    public function test_ports_that_were_found_free_are_not_found_by_another_process(): void
    {
        $mine = Ports::freeFrom(9300);
        $ask = static fn (): int => (int) trim((new Process([PHP_BINARY, '-r', 'require "vendor/autoload.php"; echo App\\Local\\Ports::freeFrom(9300)->web;'], base_path()))->mustRun()->getOutput());
        self::assertGreaterThan($mine->web, $ask());
        self::assertSame($mine->web, Ports::freeFrom(9300)->web, 'to itself it is');
    }

    #[DataProvider('addresses')]
    public function test_an_address_with_a_mistake_is_offered_mended(string $typed, ?string $meant): void
    {
        self::assertSame($meant, BaseAddress::repaired($typed));
    }

    public function test_values_are_shown_so_that_they_differ(): void
    {
        self::assertStringContainsString('—', (string) Show::cell(null, 'text'));
        self::assertStringContainsString('""', (string) Show::cell('', 'text'));
        self::assertSame('-1<i class="gap space" data-sign=""></i>234<i class="gap space" data-sign=""></i>567.50', (string) Show::cell('-1234567.50', 'decimal'));
        self::assertSame('-1234567.50', strip_tags((string) Show::cell('-1234567.50', 'decimal')), 'What is copied is the plain value.');
        self::assertSame('123.4', (string) Show::cell('123.4', 'decimal'));
        self::assertSame('9007199324523220', (string) Show::cell('9007199324523220', 'integer'));
        self::assertSame('true', (string) Show::cell('1', 'boolean'));
        self::assertSame('2031-03-02 09:30:00', (string) Show::cell('2031-03-02 09:30:00.000000', 'datetime'));
        self::assertSame('&lt;b&gt;', (string) Show::cell('<b>', 'text'));
        self::assertStringContainsString('title="'.str_repeat('x', 300), (string) Show::cell(str_repeat('x', 300), 'text'));
        self::assertSame(['1 row', "1\u{2009}200 rows", '2 queries'], [Show::count(1, 'row'), Show::count(1200, 'row'), Show::count(2, 'query', 'queries')]);
    }

    public function test_what_waits_lets_the_others_go_on_and_a_failure_is_told(): void
    {
        $seen = new \ArrayObject;
        $thing = static fn (string $name, int $steps): \Closure => static function () use ($seen, $name, $steps): void {
            for ($step = 1; $step <= $steps; $step++) {
                $seen[] = "$name$step";
                SideBySide::moment();
            }
        };
        SideBySide::run([$thing('a', 3), $thing('b', 1), $thing('c', 2)]);
        self::assertSame(['a1', 'b1', 'c1', 'a2', 'c2', 'a3'], $seen->exchangeArray([]));
        try {
            SideBySide::run([$thing('a', 3), static function (): void {
                SideBySide::moment();
                throw new Trouble('No port is free.');
            }]);
            self::fail('It went on.');
        } catch (Trouble $trouble) {
            self::assertSame(['No port is free.', ['a1', 'a2']], [$trouble->getMessage(), $seen->getArrayCopy()]);
        }
        SideBySide::moment();
    }

    public function test_the_suites_are_mixed_and_no_file_is_left_out_or_twice(): void
    {
        self::assertSame(['c1', 'a1', 'b1', 'c2', 'c3', 'a2', 'b2', 'c4'], MixedSuites::mixed([['a1', 'a2'], ['b1', 'b2'], ['c1', 'c2', 'c3', 'c4']]));
        $file = (string) tempnam(sys_get_temp_dir(), 'mixed');
        (new MixedSuites(base_path()))->write(['browser', 'app', 'core'], $file);
        $written = new \DOMDocument;
        $written->load($file);
        unlink($file);
        $files = array_map(static fn (\DOMElement $one): string => substr($one->textContent, strlen(base_path()) + 1), iterator_to_array($written->getElementsByTagName('file'), false));
        $there = (new Process(['sh', '-c', 'find tests/App tests/Browser tests/Core -name "*Test.php" | sort'], base_path()))->mustRun()->getOutput();
        self::assertEqualsCanonicalizing(explode("\n", trim($there)), $files);
        self::assertSame('true', $written->documentElement?->getAttribute('failOnWarning'), 'everything else is as the project has it');
        $browsers = array_keys(array_filter($files, static fn (string $one): bool => str_starts_with($one, 'tests/Browser/')));
        self::assertGreaterThan(count($files) / 2, max($browsers) - min($browsers), 'they are spread');
    }

    public function test_folders_above_an_instance_let_its_account_through_and_show_it_nothing(): void
    {
        $top = sys_get_temp_dir().'/folders-'.bin2hex(random_bytes(4));
        $before = umask(0077);
        try {
            (new Folders("$top/var/inner", Account::application()))->ensure();
        } finally {
            umask($before);
        }
        $modes = array_map(static fn (string $path): int => fileperms($top.$path) & 0777, ['', '/var', '/var/inner', '/var/inner/keys']);
        (new Process(['rm', '-r', $top]))->mustRun();
        self::assertSame([0711, 0711, 0711, 0700], $modes, implode(' ', array_map(decoct(...), $modes)));
    }

    public function test_a_large_answer_makes_a_small_tree(): void
    {
        $document = (object) ['data' => array_fill(0, 50_000, (object) ['a<b' => '<i>', 'n' => [1, [2]]])];
        $tree = new JsonTree(new DocumentNodes($document), '/t', '$.data', '/x');
        $html = (string) $tree->html($document);
        self::assertLessThan(20_000, strlen($html));
        self::assertStringContainsString("50\u{2009}000 records", $html);
        self::assertStringContainsString("of 49\u{2009}992 more", $html);
        $inner = (string) $tree->children([['data', 0], [49_999, 49_999]], 0);
        self::assertStringContainsString('a&lt;b', $inner);
        self::assertStringNotContainsString('<i>', $html.$inner);
        self::assertStringNotContainsString('a<b', $html.$inner);
        self::assertSame("$.data[3]['a<b']", JsonTree::path([['data', 0], [3, 3], ['a<b', 0]]));
    }

    public function test_a_long_run_makes_a_short_ladder(): void
    {
        $ladder = Ladder::of(array_map(static fn (int $page): array => ['start' => $page * 10, 'ms' => 8, 'records' => $page === 99 ? null : 50, 'waited' => $page === 1 ? 5 : 0], range(0, 99)));
        self::assertSame([100, 100], [count($ladder->bars), $ladder->pages]);
        self::assertLessThan(280, $ladder->height);
        self::assertTrue($ladder->bars[99]['failed']);
        self::assertStringContainsString('waited 5 ms', $ladder->bars[1]['says']);
        self::assertSame('page 100 · failed', $ladder->words[count($ladder->words) - 1]['text']);
        self::assertNotNull(Ladder::of([['start' => 0, 'ms' => 8, 'records' => 50, 'waited' => 0]], 4)->endX);
        foreach ($ladder->bars as $bar) {
            self::assertLessThanOrEqual(Ladder::WIDTH, $bar['x'] + $bar['w']);
        }
    }

    public function test_words_of_a_ladder_lie_on_no_bar_and_on_no_other_words(): void
    {
        mt_srand(4711);
        $drawn = 0;
        foreach (range(1, 300) as $round) {
            $atOnce = mt_rand(1, 8);
            $free = array_fill(0, $atOnce, 0);
            $rungs = [];
            foreach (range(1, mt_rand(1, $round % 3 === 0 ? 160 : 14)) as $page) {
                $line = $page % $atOnce;
                $waited = mt_rand(0, 4) === 0 ? mt_rand(0, 9000) : 0;
                $ms = mt_rand(0, 9) === 0 ? mt_rand(1000, 20_000) : mt_rand(1, 900);
                $rungs[] = ['start' => $free[$line] + $waited, 'ms' => $ms, 'records' => mt_rand(0, 6) === 0 ? null : mt_rand(0, 100_000), 'waited' => $waited, 'page' => $page, 'to' => $page + ($page % 5 === 0 ? 3 : 0), 'tries' => mt_rand(1, 3)];
                $free[$line] += $waited + $ms;
            }
            $width = [Ladder::WIDTH, 1100][$round % 2];
            $ladder = Ladder::of($rungs, $round % 4 === 0 ? mt_rand(1, 60) : null, $width);
            $boxes = array_map(Ladder::box(...), $ladder->words);
            $drawn += count($boxes);
            foreach ($boxes as $number => $box) {
                self::assertTrue($box['left'] >= 0 && $box['right'] <= $width, "round $round: inside the picture");
                foreach ($ladder->bars as $bar) {
                    self::assertFalse(self::touch($box, ['left' => min($bar['x'], $bar['waitX']), 'right' => $bar['x'] + $bar['w'], 'top' => $bar['y'], 'bottom' => $bar['y'] + $bar['h']]), "round $round: \"{$ladder->words[$number]['text']}\" lies on \"{$bar['says']}\"");
                }
                foreach (array_slice($boxes, $number + 1) as $other) {
                    self::assertFalse(self::touch($box, $other), "round $round: words lie on words");
                }
            }
            self::assertStringContainsString($ladder->bars[0]['says'], count($rungs) <= 14 ? $ladder->summary() : $ladder->bars[0]['says']);
        }
        self::assertGreaterThan(1000, $drawn, 'most have room');
    }

    /**
     * @param  array{left: float, right: float, top: float, bottom: float}  $one
     * @param  array{left: float, right: float, top: float, bottom: float}  $other
     */
    private static function touch(array $one, array $other): bool
    {
        return $one['left'] < $other['right'] && $one['right'] > $other['left'] && $one['top'] < $other['bottom'] && $one['bottom'] > $other['top'];
    }

    public function test_rows_are_written_as_load_data_reads_them(): void
    {
        $file = new RowFile(sys_get_temp_dir().'/spring-rows-'.getmypid(), [1]);
        $file->add([['1', "a\tb\nd\re\0"], ['2', null], [null, '']]);
        $file->add([['4', '\\N'], ['5', "f\x1Fg\x1Eh\\"], ['6', 'plain']]);
        $file->close();
        self::assertSame("1\x1Fa\tb\nd\re\0\x1E2\x1F\\N\x1E\\N\x1F\x1E4\x1F\\\\N\x1E5\x1Ff\\\x1Fg\\\x1Eh\\\\\x1E6\x1Fplain\x1E", (string) file_get_contents($file->path));
        self::assertSame(6, $file->rows);
        $file->clear();
        self::assertFileDoesNotExist($file->path);
    }
}
