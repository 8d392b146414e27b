<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\RequestInterface;

/**
 * What a description lists is what is kept of it: both ends are counted and compared.
 */
final class KeptWholeTest extends TestCase
{
    /**
     * @return iterable<string, array{ImportInput}>
     */
    public static function descriptions(): iterable
    {
        $root = dirname(__DIR__, 3);
        foreach ([...(glob("$root/standins/*/openapi.json") ?: []), ...(glob("$root/standins/*/*.yaml") ?: []), ...(glob("$root/database/demo/*.yaml") ?: [])] as $file) {
            yield substr($file, strlen($root) + 1) => [new ImportInput((string) file_get_contents($file), basename($file))];
        }
        foreach (array_chunk(require __DIR__.'/curl/commands.php', 12) as $number => $rows) {
            $text = implode("\n", array_map(static fn (array $row): string => strtr($row[0], ['HOST' => 'https://loans.saltmarsh.example', 'ADDRESS' => 'loans.saltmarsh.example']), $rows));
            yield "commands, part $number" => [new ImportInput($text, files: new Files(['loan.json' => '{"house": "x"}', 'note.txt' => 'two words', 'headers.txt' => "X-A: 1\n"]))];
        }
        $get = static fn (array $more = []): array => $more + ['responses' => ['200' => ['description' => 'ok']]];
        $open = static fn (array $paths, array $more = []): ImportInput => new ImportInput((string) json_encode(['openapi' => '3.0.3', 'info' => ['title' => 'T', 'version' => '1'], 'servers' => [['url' => 'https://t.saltmarsh.example']], 'paths' => $paths] + $more));
        $body = static fn (array $properties): array => ['requestBody' => ['content' => ['application/json' => ['schema' => ['type' => 'object', 'properties' => $properties]]]]];
        yield 'objects that look like nodes' => [$open(['/say' => ['post' => $get($body(['text' => ['type' => 'string']]))], '/in' => ['post' => $get($body(['input' => ['type' => 'integer']]))], '/lit' => ['put' => $get($body(['literal' => ['type' => 'object', 'properties' => ['text' => ['type' => 'string']]]]))]])];
        yield 'summaries that are no names' => [$open(['/a' => ['get' => $get(['summary' => '.'])], '/b' => ['get' => $get(['summary' => ' … '])], '/c' => ['get' => $get(['summary' => "\u{200b}"])], '/d' => ['get' => $get(['summary' => str_repeat('long ', 80)])]])];
        yield 'equal names and ids' => [$open(['/a' => ['get' => $get(['summary' => 'Same', 'operationId' => 'x']), 'post' => $get(['summary' => 'Same', 'operationId' => 'x'])], '/a/' => ['get' => $get(['summary' => 'Same'])]])];
        yield 'one name in every place' => [$open(['/{x}/a/{x}' => ['get' => $get(['parameters' => [['name' => 'x', 'in' => 'path', 'required' => true], ['name' => 'x', 'in' => 'query'], ['name' => 'x', 'in' => 'header'], ['name' => 'x', 'in' => 'cookie']]])]])];
        yield 'every method, in capitals and empty' => [$open(['/a' => ['GET' => $get(), 'options' => $get(), 'trace' => null, 'HEAD' => $get(), 'patch' => [], 'additionalOperations' => ['PURGE' => $get()]]])];
        yield 'a query in the path' => [$open(['/a?action={action}&fixed=1' => ['get' => $get(['parameters' => [['name' => 'action', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string']]]])]])];
    }

    #[DataProvider('descriptions')]
    public function test_every_endpoint_that_is_listed_is_kept(ImportInput $given): void
    {
        foreach (Importers::every($given) as $described) {
            if ($described->document !== null) {
                self::assertCount(count($described->document['endpoints'] ?? []), SourceFile::of($described->document)->endpoints());

                continue;
            }
            self::assertSame([], array_map(static fn (ImportedEndpoint $one): string => "$one->id: $one->refusal", $described->refused()));
            $kept = $described->only(null);
            self::assertSame(self::ids($described), self::ids($kept));
            self::assertSame(count($kept->endpoints), count(array_unique(array_map(static fn (ImportedEndpoint $one): string => $one->slug(), $kept->endpoints))));
            self::assertSame(count($kept->endpoints), count(array_unique(array_map(static fn (ImportedEndpoint $one): string => $one->endpoint['name'], $kept->endpoints))));
            $file = SourceFile::of($kept->document('t', 'T', 'trial', $described->bases[0] ?? 'https://t.saltmarsh.example'));
            self::assertCount(count($described->endpoints), $file->endpoints());
        }
    }

    public function test_what_cannot_be_kept_says_so_before_and_after_it_is_chosen(): void
    {
        $described = Importers::read(new ImportInput("curl -X FETCH https://t.saltmarsh.example/a\ncurl https://t.saltmarsh.example/b"));
        self::assertSame(['FETCH /a', 'GET /b'], self::ids($described));
        self::assertSame(['FETCH /a'], array_map(static fn (ImportedEndpoint $one): string => $one->id, $described->refused()));
        self::assertStringContainsString('"FETCH" is not possible here', (string) $described->refused()[0]->refusal);
        self::assertSame(['GET /b'], self::ids($described->only(null)));
        self::assertStringContainsString('A source file cannot hold this', $described->only([$described->endpoints[0]->slug()])->mends[0]->what);
        self::assertSame([], $described->only([$described->endpoints[1]->slug()])->mends);
    }

    public function test_columns_are_looked_at_with_what_is_chosen(): void
    {
        $bad = ['slug' => 'a', 'name' => 'A', 'ask' => ['path' => '/a'], 'flatten' => ['table' => 'a', 'columns' => [['name' => 'x', 'from' => 'no path', 'type' => 'text']]]];
        $described = (new Described('openapi', 'T', ['https://t.saltmarsh.example'], [], [], [], [new ImportedEndpoint($bad, 'GET /a'), new ImportedEndpoint(['slug' => 'b', 'name' => 'B', 'ask' => ['path' => '/b']], 'GET /b')]))->checked();
        self::assertSame([], $described->refused());
        $kept = $described->only(null);
        self::assertSame(['GET /b'], self::ids($kept));
        self::assertStringContainsString('A source file cannot hold this: flatten.columns[0].from', $kept->mends[0]->what);
    }

    public function test_a_part_without_a_value_is_told_of(): void
    {
        $large = str_repeat('x', 200_001);
        $described = Importers::read(new ImportInput('curl -F title=a -F file=@large.txt https://t.saltmarsh.example/up', files: new Files(['large.txt' => $large])));
        self::assertContains('Of its form 1 of 2 parts have a value to try with. Fill in the others.', array_map(static fn ($one): string => $one->what, $described->mends));
    }

    public function test_inputs_of_one_name_are_sent_under_it(): void
    {
        $described = Importers::read(new ImportInput("curl 'https://t.saltmarsh.example/loans/5?loan_id=3' -H 'loan_id: <house>' -b loan_id=4"));
        $request = self::built($described);
        self::assertSame('https://t.saltmarsh.example/loans/5?loan_id=3', (string) $request->getUri());
        self::assertSame(['<house>', 'loan_id=4'], [$request->getHeaderLine('loan_id'), $request->getHeaderLine('cookie')]);
    }

    private static function built(Described $described): RequestInterface
    {
        $ask = AskDefinition::of($described->only(null)->endpoints[0]->endpoint['ask']);

        return (new RequestBuilder($described->bases[0], $described->headers, [], []))->build($ask, $ask->tryValues(), new GivenSecrets([]));
    }

    /**
     * @return list<string>
     */
    private static function ids(Described $described): array
    {
        return array_map(static fn (ImportedEndpoint $one): string => $one->id, $described->endpoints);
    }
}
