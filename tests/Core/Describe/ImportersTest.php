<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Yaml\Yaml;

/**
 * What every importer has to do, with one thing of its kind and with things that are none.
 */
final class ImportersTest extends TestCase
{
    /**
     * @return array<string, array{string, string}> name of the importer, and a text of its kind
     */
    private static function kinds(): array
    {
        $har = ['log' => ['version' => '1.2', 'entries' => [['request' => ['method' => 'GET', 'url' => 'https://loans.saltmarsh.example/v2/loans/8812', 'headers' => [['name' => 'Authorization', 'value' => 'Bearer canary-4711-secret']]], 'response' => ['status' => 200, 'content' => ['mimeType' => 'application/json', 'text' => '{"id": 8812}']]]]]];

        return [
            'cURL commands' => ['cURL commands', "curl https://loans.saltmarsh.example/v2/loans/8812 -H 'Authorization: Bearer canary-4711-secret'"],
            'OpenAPI file' => ['OpenAPI file', (string) file_get_contents(dirname(__DIR__, 3).'/standins/loans-desk/openapi.yaml')],
            'HAR recording' => ['HAR recording', (string) json_encode($har)],
            'Source file' => ['Source file', (string) file_get_contents(dirname(__DIR__, 3).'/database/demo/loans-desk.yaml')],
        ];
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function texts(): iterable
    {
        yield from self::kinds();
    }

    public function test_there_is_a_text_for_every_importer(): void
    {
        self::assertEqualsCanonicalizing(array_map(static fn (Importer $one): string => $one::kind()->title, Importers::all()), array_column(self::kinds(), 0));
    }

    #[DataProvider('texts')]
    public function test_only_one_importer_recognises_a_text(string $name, string $text): void
    {
        foreach ([$text, "\xEF\xBB\xBF$text", "\n$text"] as $variant) {
            $these = array_values(array_filter(Importers::all(), static fn (Importer $one): bool => $one->recognises(new ImportInput($variant))));
            self::assertSame([$name], array_map(static fn (Importer $one): string => $one::kind()->title, $these));
        }
    }

    #[DataProvider('texts')]
    public function test_what_it_makes_is_a_valid_source_file_without_secrets(string $name, string $text): void
    {
        $described = Importers::read(new ImportInput($text));
        $file = SourceFile::of($described->document('x', 'X', 'trial', 'https://loans.saltmarsh.example/v2'));
        self::assertNotSame([], $file->endpoints());
        self::assertEquals($file->document, SourceFile::read($file->yaml())->document, 'it survives being written and read');
        self::assertStringNotContainsString('canary', $file->yaml().serialize($described->mends));
        $slugs = array_map(static fn (ImportedEndpoint $one): string => $one->slug(), $described->endpoints);
        self::assertSame(array_unique($slugs), $slugs);
    }

    #[DataProvider('texts')]
    public function test_it_reads_the_same_thing_the_same_way(string $name, string $text): void
    {
        self::assertEquals(Importers::read(new ImportInput($text)), Importers::read(new ImportInput($text)));
    }

    #[DataProvider('texts')]
    public function test_a_text_that_is_cut_off_is_read_or_refused_but_breaks_nothing(string $name, string $text): void
    {
        for ($length = strlen($text) - 1; $length > 20; $length = (int) ($length * 0.86)) {
            try {
                self::assertInstanceOf(Described::class, Importers::read(new ImportInput(substr($text, 0, $length))));
            } catch (CannotDescribe $cannot) {
                self::assertNotSame([], $cannot->sentences);
            }
        }
    }

    public function test_no_mistake_anywhere_in_an_openapi_file_stops_it(): void
    {
        $folder = dirname(__DIR__, 3).'/standins';
        $files = [json_decode((string) file_get_contents("$folder/stores/openapi.json"), true), Yaml::parse((string) file_get_contents("$folder/loans-desk/openapi.yaml")), Yaml::parse((string) file_get_contents("$folder/label-writer/openapi.yaml")), json_decode((string) file_get_contents("$folder/ledger/openapi.json"), true)];
        $odd = [null, 5, -1.5, 'x', '', [], ['a'], ['a' => 'b'], true, ['$ref' => '#/nowhere'], ['$ref' => 5], ['$ref' => '#'], '{a}{b}', '/x/{', 'http://localhost', ['type' => ['string', 'null']], ['type' => 'array'], ['allOf' => [5, null]], ['oneOf' => 'x'], str_repeat('long ', 100), "\u{2028}<script>", 1e20];
        mt_srand(2031);
        $read = 0;
        for ($round = 0; $round < 800; $round++) {
            $document = $files[$round % 4];
            for ($changes = mt_rand(1, 4); $changes > 0; $changes--) {
                $node = &$document;
                for ($depth = mt_rand(1, 9); $depth > 0 && is_array($node) && $node !== []; $depth--) {
                    $node = &$node[array_keys($node)[mt_rand(0, count($node) - 1)]];
                }
                $node = $odd[mt_rand(0, count($odd) - 1)];
                unset($node);
            }
            try {
                $described = Importers::read(new ImportInput((string) json_encode($document), '', $round % 2 === 0 ? 'https://loans.saltmarsh.example/openapi.json' : null));
                SourceFile::of($described->only(null)->document('x', 'X', 'trial', 'https://loans.saltmarsh.example'));
                self::assertCount(count($described->endpoints), $described->only(null)->endpoints, 'what is listed can be made');
                $read++;
            } catch (CannotDescribe) {
                continue;
            }
        }
        self::assertGreaterThan(500, $read);
    }

    public function test_no_sign_anywhere_in_a_command_breaks_it(): void
    {
        $commands = array_values(require __DIR__.'/curl/commands.php');
        $signs = ["'", '"', '\\', '$', '^', '`', "\n", '{', '}', '[', ']', '#', '?', '&', '=', '%', '%zz', '://', '-', '--', '@', ';', '|', '>', '<', "\0", "\xff", 'é', ' ', '1', '//', '..', '$(x)', '${y}'];
        mt_srand(2030);
        $read = 0;
        for ($round = 0; $round < 1500; $round++) {
            $text = strtr($commands[mt_rand(0, count($commands) - 1)][0], ['HOST' => 'https://loans.saltmarsh.example', 'ADDRESS' => 'loans.saltmarsh.example']);
            for ($changes = mt_rand(1, 5); $changes > 0; $changes--) {
                $at = mt_rand(0, strlen($text));
                $text = substr($text, 0, $at).$signs[mt_rand(0, count($signs) - 1)].substr($text, $at + mt_rand(0, 3));
            }
            try {
                $described = Importers::read(new ImportInput($text));
                $kept = $described->only(null);
                SourceFile::of($kept->document('x', 'X', 'trial', 'https://loans.saltmarsh.example'));
                self::assertCount(count($described->endpoints), [...$kept->endpoints, ...$described->refused()], $text);
                self::assertCount(count($described->mends) + count($described->refused()), $kept->mends, $text);
                $read++;
            } catch (CannotDescribe) {
                continue;
            }
        }
        self::assertGreaterThan(700, $read);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function strangers(): iterable
    {
        yield 'nothing' => [''];
        yield 'a poem' => ["The tide came in\nand took the crate"];
        yield 'some JSON' => ['{"loans": [1, 2]}'];
        yield 'a page' => ['<!doctype html><title>API</title>'];
        yield 'bytes' => [random_bytes(200)];
        yield 'a list' => ['[1, 2]'];
        yield 'another command' => ['wget https://loans.saltmarsh.example'];
    }

    #[DataProvider('strangers')]
    public function test_what_is_none_of_them_is_said(string $text): void
    {
        $this->expectException(CannotDescribe::class);
        Importers::read(new ImportInput($text));
    }

    public function test_of_several_source_files_the_one_that_is_wrong_is_named_by_its_number(): void
    {
        $file = static fn (string $slug): string => "deepspring: 1\nsource: {slug: $slug, name: X, environments: {trial: {base: 'http://x.example'}}}\n";
        try {
            Importers::read(new ImportInput($file('x')."---\n".$file('No Slug')."---\n".$file('z')));
            self::fail('It was taken.');
        } catch (CannotDescribe $cannot) {
            self::assertCount(1, $cannot->sentences);
            self::assertStringStartsWith('file 2, line 5, source.slug: ', $cannot->sentences[0]);
        }
        try {
            Importers::read(new ImportInput($file('No Slug')));
            self::fail('It was taken.');
        } catch (CannotDescribe $cannot) {
            self::assertStringStartsWith('line 2, source.slug: ', $cannot->sentences[0]);
        }
    }

    public function test_several_source_files_in_one_text(): void
    {
        $folder = dirname(__DIR__, 3).'/database/demo';
        $all = Importers::every(new ImportInput(file_get_contents("$folder/loans-desk.yaml")."\n---\n".file_get_contents("$folder/stores.yaml")));
        self::assertSame(['Loans desk', 'Stores'], array_map(static fn (Described $one): string => $one->title, $all));
    }
}
