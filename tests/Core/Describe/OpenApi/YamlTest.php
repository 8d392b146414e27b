<?php

declare(strict_types=1);

namespace Tests\Core\Describe\OpenApi;

use DeepSpring\Describe\OpenApi\Yaml;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml as Whole;

/**
 * The quick reader gives what the parser of the whole language gives, or fails as it does.
 */
final class YamlTest extends TestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function texts(): iterable
    {
        yield 'a mapping' => ["a: 1\nb: two\n"];
        yield 'nested' => ["a:\n  b:\n    c: 1\n  d: 2\ne: 3\n"];
        yield 'a sequence' => ["a:\n  - 1\n  - two\n  - b: 3\n    c: 4\n  -\n    d: 5\n"];
        yield 'a sequence as far left as its name' => ["a:\n- 1\n- b: 2\n  c: 3\nd: 4\n"];
        yield 'sequences in sequences' => ["a:\n  - - 1\n    - 2\n  - - 3\n"];
        yield 'quotes' => ["a: \"x: \\\"y\\\" #1\"\nb: 'it''s'\n\"c d\": 1\n'e': 2\n"];
        yield 'escapes' => ["a: \"\\u00e9\\n\\t\\x41\"\n"];
        yield 'words with a meaning' => ["a: true\nb: false\nc: null\nd: ~\ne: yes\nf: No\ng: TRUE\n"];
        yield 'numbers' => ["a: 0\nb: -12\nc: 1.5\nd: 1e3\ne: 0x1F\nf: 0o17\ng: 017\nh: 1_000\ni: .5\nj: 12345678901234567890\nk: +1\nl: .inf\n"];
        yield 'versions and days' => ["a: 3.0.3\nb: 2031-03-02\nc: 12:30\nd: \"2031-03-02\"\n"];
        yield 'flow collections' => ["a: {b: 1, c: [2, 3]}\nd: []\ne: {}\nf: [{g: h}, 'i, j']\n"];
        yield 'flow over lines' => ["a: {b: 1,\n  c: 2}\nd: [1,\n  2]\n"];
        yield 'literal and folded texts' => ["a: |\n  one\n    two\n\n  three\nb: >\n  one\n  two\nc: |-\n  x\nd: 1\n"];
        yield 'a text over lines' => ["a: one\n  two\n  three\nb: 1\n"];
        yield 'comments' => ["# top\na: 1 # one\n\n# between\nb: # two\n  c: 'x # y' # three\n"];
        yield 'empty values' => ["a:\nb:\n  c:\n  d: 1\n"];
        yield 'an address as a value' => ["a: https://loans.saltmarsh.example/v2\nb: x:y\n"];
        yield 'paths as names' => ["/loans/{id}:\n  get: 1\n/loans:\n  post: 2\n"];
        yield 'status codes as names' => ["200:\n  a: 1\n'404':\n  b: 2\n"];
        yield 'references' => ["a:\n  \$ref: '#/components/x'\nb: {\$ref: \"#/y\"}\n"];
        yield 'anchors' => ["a: &x\n  b: 1\nc: *x\nd:\n  <<: *x\n  e: 2\n"];
        yield 'a start of a document' => ["---\na: 1\n"];
        yield 'line ends of Windows' => ["a: 1\r\nb:\r\n  c: 2\r\n"];
        yield 'a bare text' => ["hello\n"];
        yield 'nothing' => ["\n# only this\n"];
        yield 'stars and signs' => ["a: a*b\nb: 50%\nc: '@x'\nd: x & y\ne: a!b\n"];
        yield 'a name with blanks' => ["a b: 1\nc d e: 2\n"];
        yield 'blanks behind' => ["a: 1   \nb: x  \n"];
        yield 'dashes in texts' => ["a: - x\n"];
        yield 'a name twice' => ["a: 1\na: 2\n"];
        yield 'a colon too many' => ["a: b: c\n"];
        yield 'too far to the right' => ["a: 1\n   b: 2\n"];
        yield 'an open bracket' => ["a: [1, 2\nb: 3\n"];
        yield 'an open quote' => ["a: \"x\nb: 3\n"];
        foreach (['loans-desk/openapi.yaml', 'label-writer/openapi.yaml'] as $file) {
            yield $file => [(string) file_get_contents(dirname(__DIR__, 4)."/standins/$file")];
        }
    }

    #[DataProvider('texts')]
    public function test_it_reads_as_the_whole_parser_does(string $text): void
    {
        try {
            $wanted = Whole::parse($text);
        } catch (ParseException) {
            $this->expectException(ParseException::class);
            (new Yaml)->parse($text);

            return;
        }
        self::assertSame($wanted, (new Yaml)->parse($text));
    }
}
