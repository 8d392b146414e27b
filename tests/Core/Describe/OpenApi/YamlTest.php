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

    /**
     * 5,000 documents as the whole parser writes them, half of them with flaws. None is read as anything
     * else; what the whole parser refuses is read only where it is stricter than the language: names like
     * `true:`, and a bracket that closes at the left.
     */
    public function test_random_and_flawed_documents_are_read_as_the_whole_parser_does(): void
    {
        mt_srand(2031);
        $counts = ['same' => 0, 'refused' => 0, 'lenient' => 0];
        $padding = '#'.str_repeat('x', 300_000)."\n";
        for ($number = 0; $number < 5000; $number++) {
            $text = ltrim($this->document(), " \r\n");
            $wanted = self::read(static fn (): mixed => Whole::parse($text));
            $found = self::read(static fn (): mixed => (new Yaml)->parse($text));
            $large = self::read(static fn (): mixed => (new Yaml)->parse($padding.$text));
            if ($wanted instanceof ParseException && ! $found instanceof ParseException) {
                self::assertMatchesRegularExpression('/^(?:Non-string|Numeric) keys|^Malformed inline YAML/', $wanted->getMessage(), (string) json_encode($text));
                $counts['lenient']++;
            } elseif ($wanted instanceof ParseException) {
                self::assertInstanceOf(ParseException::class, $found, (string) json_encode($text));
                $counts['refused']++;
            } else {
                self::assertSame(serialize($wanted), $found instanceof ParseException ? $found->getMessage() : serialize($found), (string) json_encode($text));
                // Of a large file a flaw may be told where the whole parser finds none, but nothing is read as anything else.
                self::assertContains($large instanceof ParseException ? 'refused' : serialize($large), ['refused', serialize($wanted)], (string) json_encode($text));
                $counts['same']++;
            }
        }
        self::assertGreaterThan(3000, $counts['same']);
        self::assertGreaterThan(800, $counts['refused']);
        self::assertLessThan(20, $counts['lenient']);
    }

    /**
     * @param  \Closure(): mixed  $read
     */
    private static function read(\Closure $read): mixed
    {
        try {
            return $read();
        } catch (ParseException $fault) {
            return $fault;
        }
    }

    private function document(): string
    {
        $text = Whole::dump($this->tree(0), mt_rand(1, 9), mt_rand(1, 4), [0, Whole::DUMP_MULTI_LINE_LITERAL_BLOCK, Whole::DUMP_EMPTY_ARRAY_AS_SEQUENCE, Whole::DUMP_COMPACT_NESTED_MAPPING][mt_rand(0, 3)]);
        $signs = [' ', "\n", ':', '-', '#', "'", '"', '|', '>', '[', ']', '{', '}', '&', '*', '!', '%', ',', '?', '  ', "\n  ", "\n- ", ': ', '\\', '~', '0', 'a'];
        for ($changes = mt_rand(0, 1) * mt_rand(1, 3); $changes > 0; $changes--) {
            $at = mt_rand(0, strlen($text));
            $text = substr($text, 0, $at).$signs[mt_rand(0, count($signs) - 1)].substr($text, $at + mt_rand(0, 2));
        }

        return mt_rand(0, 9) === 0 ? str_replace("\n", "\r\n", $text) : $text;
    }

    private function tree(int $depth): mixed
    {
        $texts = ['plain', 'two words', "it's", '"quoted"', '12', '-3.5', '1e3', '0x1F', '0o17', '017', 'true', 'no', '~', 'null', '', '2031-04-01', '2031-04-01T12:00:00Z', 'a: b', '#no', 'a #c', '- x', '{a}', '[b]', '*x', '&y', '!z', '|', "multi\nline\ntext", "tab\there", '🚢', 'ليلى', '  lead', 'trail  ', ':x', 'x:', '?q', '%p', '@a', '`b', '1_000', '.inf', '12:30:45', '=', '<<', '123abc', "'", '"', '\\', 'a,b', '{', ']', '-', '--- x', '...'];
        $names = ['a', 'b c', '200', 'x-y', '$ref', '/loans/{id}', 'type', '"q"', "it's", '1.5', 'true', 'null', '', 'a: b', '#h', '-', 'é', '? k', 'items', '~'];
        $kind = $depth > 4 ? 0 : mt_rand(0, 9);
        if ($kind < 5) {
            return $texts[mt_rand(0, count($texts) - 1)];
        }
        if ($kind === 5) {
            return [12, -3.5, true, null, false, 1e20, []][mt_rand(0, 6)];
        }
        $tree = [];
        for ($count = mt_rand(0, 5); $count > 0; $count--) {
            $tree[$kind < 8 ? $names[mt_rand(0, count($names) - 1)] : count($tree)] = $this->tree($depth + 1);
        }

        return $tree;
    }
}
