<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\DocumentChange;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ComparisonTest extends TestCase
{
    private const FILE = <<<'YAML'
        deepspring: 1
        source: {slug: loans, name: Loans, environments: {trial: {base: "https://loans.saltmarsh.example"}}, access: [{scheme: bearer, token: {secret: t}}]}
        endpoints:
          - slug: loans
            name: Loans
            ask: {path: /loans, inputs: [{name: status, in: query, try: open}, {name: house, in: query}]}
            flatten: {table: loans, key: [id], columns: [{name: id, from: "$.id", type: integer}, {name: ref, from: "$.ref"}]}
          - slug: create
            name: Create
            does: create
            ask: {method: POST, path: /loans, inputs: [{name: due, in: body}], body: {of: {due: {input: due}, fixed: {"0": a}}}}
        YAML;

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function edits(): iterable
    {
        yield 'nothing' => ['name: Loans', 'name: Loans', []];
        yield 'a value' => ['try: open', 'try: packed', ['endpoint loans › ask › input status › try: open → packed']];
        yield 'a value more' => ['{name: house, in: query}', '{name: house, in: query, required: true}', ['endpoint loans › ask › input house › required: + true']];
        yield 'a value less' => [', try: open', '', ['endpoint loans › ask › input status › try: - open']];
        yield 'an input less' => [', {name: house, in: query}', '', ['endpoint loans › ask › input house: - {"name":"house","in":"query"}']];
        yield 'inputs in another order' => ['{name: status, in: query, try: open}, {name: house, in: query}', '{name: house, in: query}, {name: status, in: query, try: open}', ['endpoint loans › ask › input order: ["status","house"] → ["house","status"]']];
        yield 'a column' => ['{name: ref, from: "$.ref"}', '{name: ref, from: "$.reference"}', ['endpoint loans › flatten › column ref › from: $.ref → $.reference']];
        yield 'the key, as a whole' => ['key: [id]', 'key: [id, ref]', ['endpoint loans › flatten › key: ["id"] → ["id","ref"]']];
        yield 'a member of a body' => ['fixed: {"0": a}', 'fixed: {"0": b}', ['endpoint create › ask › body › tree › fixed › 0: a → b']];
        yield 'the access' => ['{secret: t}', '{secret: u}', ['source › access 1 bearer › token › secret: t → u']];
        yield 'an environment' => ['trial: {base', 'live: {base', ['source › environment trial: - {"base":"https://loans.saltmarsh.example"}', 'source › environment live: + {"base":"https://loans.saltmarsh.example"}']];
    }

    /**
     * @param  list<string>  $changes
     */
    #[DataProvider('edits')]
    public function test_each_change_is_named_by_its_place(string $old, string $new, array $changes): void
    {
        self::assertStringContainsString($old, self::FILE);
        $found = (new DocumentComparison)->of(SourceFile::read(self::FILE)->document, SourceFile::read(str_replace($old, $new, self::FILE))->document);
        self::assertSame($changes, array_map(static fn (DocumentChange $one): string => implode(' › ', $one->place()).': '.match ($one->kind) {
            'added' => '+ '.DocumentChange::shown($one->now),
            'removed' => '- '.DocumentChange::shown($one->was),
            default => DocumentChange::shown($one->was).' → '.DocumentChange::shown($one->now),
        }, $found));
    }

    public function test_a_file_with_trees_survives_yaml_json_and_storing(): void
    {
        $text = str_replace('fixed: {"0": a}', 'fixed: {"0": a, e: {}, l: [], n: 1.0, d: {literal: {input: x}}}', self::FILE);
        $file = SourceFile::read($text);
        self::assertSame('{"0":"a","e":{},"l":[],"n":1.0,"d":{"literal":{"input":"x"}}}', json_encode($file->document['endpoints'][1]['ask']['body']['of']->fixed, JSON_PRESERVE_ZERO_FRACTION));
        foreach ([SourceFile::read($file->yaml()), SourceFile::stored($file->json()), SourceFile::read($file->json())] as $again) {
            self::assertEquals($file->document, $again->document);
            self::assertTrue($file->says($again));
        }
        self::assertFalse($file->says(SourceFile::read(str_replace('l: []', 'l: {}', $text))));
    }

    public function test_only_what_changed_is_looked_at_again_and_faults_keep_their_places(): void
    {
        $file = SourceFile::read(self::FILE);
        $document = $file->document;
        $document['endpoints'][1]['ask']['path'] = '/loans/{id}';
        $this->expectExceptionMessageMatches('/endpoints\[1\]\.ask\.path: The path holds \{id\}/');
        $file->changed($document);
    }

    public function test_a_change_cannot_take_a_name_that_another_endpoint_has(): void
    {
        $file = SourceFile::read(self::FILE);
        $document = $file->document;
        $document['endpoints'][1]['flatten'] = ['table' => 'Loans', 'columns' => [['name' => 'a', 'from' => '$.a']]];
        $this->expectExceptionMessageMatches('/"Loans" is made by endpoints\[0\]/');
        $file->changed($document);
    }
}
