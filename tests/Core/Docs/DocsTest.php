<?php

declare(strict_types=1);

namespace Tests\Core\Docs;

use DeepSpring\Docs\FieldTable;
use DeepSpring\Docs\HtmlText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DocsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function pages(): iterable
    {
        yield 'headings and paragraphs' => ['<h1>Loans</h1><p>All of   them.</p><p>And more</p>', "# Loans\n\nAll of them.\n\nAnd more"];
        yield 'code with its language and its blanks' => ["<pre><code class=\"language-json\">{\n  \"a\": 1\n}</code></pre>", "```json\n{\n  \"a\": 1\n}\n```"];
        yield 'code that holds a fence' => ["<pre>```\nx\n```</pre>", "~~~~\n```\nx\n```\n~~~~"];
        yield 'a table with its head' => ['<table><tr><th>Name</th><th>Type</th></tr><tr><td>due</td><td>a|b</td></tr></table>', "| Name | Type |\n| --- | --- |\n| due | a\\|b |"];
        yield 'a table without one' => ['<table><tr><td>due</td><td>date</td></tr></table>', "|  |  |\n| --- | --- |\n| due | date |"];
        yield 'rows of different widths' => ['<table><tr><th>a</th></tr><tr><td>1</td><td>2</td></tr></table>', "| a |  |\n| --- | --- |\n| 1 | 2 |"];
        yield 'lists in lists' => ['<ul><li>one<ul><li>inner</li></ul></li><li>two</li></ul>', "- one\n  - inner\n- two"];
        yield 'a numbered list' => ['<ol><li>one</li><li>two</li></ol>', "1. one\n2. two"];
        yield 'words in a line' => ['<p>Send <b>your</b> <code>X-Key</code> to <a href="/loans">loans</a>.</p>', 'Send **your** `X-Key` to [loans](https://docs.saltmarsh.example/loans).'];
        yield 'what runs and decorates is left out' => ['<nav>Menu</nav><script>alert(1)</script><style>p{}</style><p onclick="x()">Text<img src=x onerror=alert(1)></p><form><input></form><footer>©</footer>', 'Text'];
        yield 'a link that runs' => ['<p><a href="javascript:alert(1)">press</a></p>', 'press'];
        yield 'signs of Markdown in text' => ['<p>2 * 3 # [x] &lt;script&gt; `y`</p>', '2 \* 3 \# \[x\] \<script\> \`y\`'];
        yield 'the main part, where there is one' => ['<body><p>Around</p><main><p>Inside</p></main></body>', 'Inside'];
        yield 'definitions' => ['<dl><dt>due</dt><dd>when it comes back</dd></dl>', "**due**\n\nwhen it comes back"];
        yield 'other scripts' => ['<p>貸出 — Ødegård</p>', '貸出 — Ødegård'];
        yield 'tags that are not closed' => ['<p>one<p>two<table><tr><td>x', "one\n\ntwo\n\n|  |\n| --- |\n| x |"];
        yield 'nothing' => ['', ''];
    }

    #[DataProvider('pages')]
    public function test_a_page_becomes_markdown(string $html, string $text): void
    {
        self::assertSame($text, HtmlText::of($html, 'https://docs.saltmarsh.example/v2/')['text']);
    }

    public function test_a_page_has_the_title_it_gives_itself(): void
    {
        self::assertSame('Loans desk', HtmlText::of('<title> Loans
 desk </title><h1>Other</h1>')['title']);
        self::assertSame('Other', HtmlText::of('<h1>Other</h1>')['title']);
        self::assertTrue(HtmlText::isHtml("\n<!doctype html><p>x"));
        self::assertFalse(HtmlText::isHtml("# Loans\n\nA < b and c > d"));
        // However deep it is, it ends.
        self::assertSame('x', HtmlText::of(str_repeat('<div>', 150).'x'.str_repeat('</div>', 150))['text']);
        self::assertIsString(HtmlText::of(str_repeat('<div><b>', 3000).'x')['text']);
    }

    /**
     * @return iterable<string, array{list<list<string>>, list<array<string, mixed>>}>
     */
    public static function tables(): iterable
    {
        yield 'with heads' => [[['Parameter', 'In', 'Type', 'Required', 'Description', 'Example'], ['house', 'path', 'string', 'yes', 'Its short name', 'north-quay'], ['limit', 'query', 'integer (1–200)', 'no', 'At a time', '50']], [['name' => 'house', 'type' => 'text', 'in' => 'path', 'required' => true, 'example' => 'north-quay', 'about' => 'Its short name'], ['name' => 'limit', 'type' => 'integer', 'in' => 'query', 'required' => false, 'example' => '50', 'about' => 'At a time']]];
        yield 'with an empty head' => [[['', '', ''], ['due', 'date', 'When it comes back']], [['name' => 'due', 'type' => 'date', 'in' => '', 'required' => false, 'example' => '', 'about' => 'When it comes back']]];
        yield 'with heads that say nothing' => [[['Scope', ''], ['loans.read', 'read loans']], [['name' => 'loans.read', 'type' => 'text', 'in' => '', 'required' => false, 'example' => '', 'about' => 'read loans']]];
        yield 'with marks beside the name' => [[['Name', 'Type'], ['due *', 'Date-Time'], ['fee (required)', 'decimal'], ['note (optional)', 'string']], [['name' => 'due', 'type' => 'datetime', 'in' => '', 'required' => true, 'example' => '', 'about' => ''], ['name' => 'fee', 'type' => 'number', 'in' => '', 'required' => true, 'example' => '', 'about' => ''], ['name' => 'note', 'type' => 'text', 'in' => '', 'required' => false, 'example' => '', 'about' => '']]];
        yield 'what is no name is passed over, and a name counts once' => [[['Field'], ['see below'], ['due'], ['due'], ['']], [['name' => 'due', 'type' => 'text', 'in' => '', 'required' => false, 'example' => '', 'about' => '']]];
        yield 'nothing' => [[], []];
    }

    /**
     * @param  list<list<string>>  $rows
     * @param  list<array<string, mixed>>  $fields
     */
    #[DataProvider('tables')]
    public function test_a_table_of_fields_is_read(array $rows, array $fields): void
    {
        self::assertSame($fields, FieldTable::of($rows)->fields);
    }

    public function test_fields_become_inputs_beside_those_that_are_there_and_a_sample(): void
    {
        $table = FieldTable::of([['Name', 'Type', 'Example', 'Description'], ['house', 'string', 'north-quay', 'Its name'], ['status', 'string', 'open', ''], ['limit', 'int', '50', '']]);
        $endpoint = $table->asInputs(['slug' => 'loans', 'ask' => ['path' => '/loans/{house}', 'inputs' => [['name' => 'status', 'in' => 'header', 'try' => 'mine']]]]);
        self::assertSame([['name' => 'status', 'in' => 'header', 'try' => 'mine'], ['name' => 'house', 'in' => 'path', 'required' => true, 'try' => 'north-quay', 'about' => 'Its name'], ['name' => 'limit', 'in' => 'query', 'type' => 'integer', 'try' => '50']], $endpoint['ask']['inputs']);
        self::assertSame("house  text  north-quay\nstatus  text  open\nlimit  integer  50", $table->sample());
    }
}
