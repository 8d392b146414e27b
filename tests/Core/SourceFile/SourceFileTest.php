<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SourceFileTest extends TestCase
{
    private const GOOD = <<<'YAML'
        deepspring: 1
        source:
          slug: loans-desk
          name: Loans desk
          environments:
            trial: {base: "http://127.0.0.1:8401/loans-desk/v2"}
          headers: {accept: application/json}
          access:
            - scheme: bearer
              token: {secret: token}
          test: {endpoint: loans}
        endpoints:
          - slug: loans
            name: Loans out
            ask:
              path: /loans/{house}
              inputs:
                - {name: house, in: path, try: north-quay}
                - name: status
                  in: query
            answer:
              records: "$.data[*]"
            onward: {style: cursor, send_as: after, next: "$.next"}
            flatten:
              table: loans
              key: [loan_id]
              columns:
                - {name: loan_id, from: "$.id", type: integer}
                - name: due
                  from: "$.due"
                  type: date
              branches:
                - table: loan_items
                  from: "$.items[*]"
                  columns:
                    - {name: title, from: "$.title"}
        YAML;

    public function test_it_is_written_as_people_write_it(): void
    {
        self::assertStringContainsString("\nsource:\n  slug: loans-desk\n", SourceFile::read(self::GOOD)->yaml());
        self::assertStringContainsString("\n  access:\n    - scheme: bearer\n      token:\n        secret: token\n", SourceFile::read(self::GOOD)->yaml());
    }

    /**
     * A change to the good file, and where and how it is refused.
     *
     * @return iterable<string, array{string, string, int|null, string, string}>
     */
    public static function faults(): iterable
    {
        yield 'another version' => ['deepspring: 1', 'deepspring: 2', 1, 'deepspring', 'must be 1'];
        yield 'a slug with capitals' => ['slug: loans-desk', 'slug: Loans', 3, 'source.slug', 'is no slug'];
        yield 'a base without a scheme' => ['"http://127.0.0.1:8401/loans-desk/v2"', '"127.0.0.1:8401"', 6, 'source.environments.trial.base', 'starts with http:// or https://'];
        yield 'a base with a query' => ['loans-desk/v2"', 'loans-desk/v2?x=1"', 6, 'source.environments.trial.base', 'no user name, query'];
        yield 'a base with a user' => ['http://127', 'http://me:pw@127', 6, 'source.environments.trial.base', 'no user name'];
        yield 'an unknown scheme' => ['scheme: bearer', 'scheme: digest', 9, 'source.access[0].scheme', 'allowed are none, basic, api-key, bearer, oauth2-client-credentials'];
        yield 'a scheme without its field' => ['token: {secret: token}', 'prefix: X', 9, 'source.access[0]', 'needs "token"'];
        yield 'a field of another scheme' => ['token: {secret: token}', "token: {secret: token}\n      password: x", 9, 'source.access[0]', 'does not know "password"'];
        yield 'a number too large' => ['type: integer}', 'type: decimal, scale: 99}', 28, 'endpoints[0].flatten.columns[0].scale', 'at most 30'];
        yield 'a number too small' => ['style: cursor,', 'style: cursor, size: 0, size_as: n,', 23, 'endpoints[0].onward.size', 'at least 1'];
        yield 'a typing error in a key' => ['records:', 'record:', 21, 'endpoints[0].answer', '"records" was probably meant'];
        yield 'a method not possible' => ['path: /loans/{house}', "path: /loans/{house}\n      method: FETCH", 17, 'endpoints[0].ask.method', 'allowed are GET, HEAD, POST'];
        yield 'an input in no place' => ['in: query', 'in: heart', 20, 'endpoints[0].ask.inputs[1].in', 'allowed are path, query, header, cookie, body'];
        yield 'an input twice' => ['name: status', 'name: house', 19, 'endpoints[0].ask.inputs[1].name', 'two inputs named "house"'];
        yield 'a path without its input' => ['/loans/{house}', '/loans/{hous}', 16, 'endpoints[0].ask.path', 'no input of that name'];
        yield 'an input without its path' => ['/loans/{house}', '/loans', 18, 'endpoints[0].ask.inputs[0]', 'the path has no {house}'];
        yield 'no path' => ['"$.data[*]"', '"data[*]"', 22, 'endpoints[0].answer.records', 'starts with $'];
        yield 'a path with a fault' => ['"$.data[*]"', '"$.data[*"', 22, 'endpoints[0].answer.records', 'not closed (at character 9'];
        yield 'a style without its field' => [', next: "$.next"', '', 23, 'endpoints[0].onward.next', 'Say where the cursor is found'];
        yield 'an unknown style' => ['style: cursor', 'style: magic', 23, 'endpoints[0].onward.style', 'allowed are none, page, offset, cursor, next-link'];
        yield 'a size without its name' => ['style: cursor,', 'style: cursor, size: 5,', 23, 'endpoints[0].onward', 'size and size_as go together'];
        yield 'a key that is no column' => ['key: [loan_id]', 'key: [id]', 26, 'endpoints[0].flatten.key[0]', 'no column of this table'];
        yield 'an input for a column that there is not' => ['in: query', "in: query\n          stands_for: {column: dues, operator: \">=\"}", 21, 'endpoints[0].ask.inputs[1].stands_for', 'speaks of "dues", which is no column of this table; "due" was probably meant'];
        yield 'an order by a column that there is not' => ['in: query', "in: query\n          stands_for: {order: {due: d, Due desc: -d, title: t}}", 21, 'endpoints[0].ask.inputs[1].stands_for', 'speaks of "title", which'];
        yield 'a column twice' => ['- name: due', '- name: loan_id', 29, 'endpoints[0].flatten.columns[1].name', 'two columns named'];
        yield 'a column from nowhere' => ['from: "$.due"', 'zone: UTC', 29, 'endpoints[0].flatten.columns[1]', 'exactly one of from, envelope, input, row, member, position, compute'];
        yield 'an unknown type' => ['type: date', 'type: money', 31, 'endpoints[0].flatten.columns[1].type', 'allowed are text, integer'];
        yield 'a parent outside a branch' => ['from: "$.due"', 'parent: "$.due"', 29, 'endpoints[0].flatten.columns[1]', 'for the columns of a branch'];
        yield 'a table twice' => ['table: loan_items', 'table: Loans', 33, 'endpoints[0].flatten.branches[0].table', 'is made by endpoints[0].flatten already'];
        $refresh = static fn (string $what): array => ['name: Loans out', "name: Loans out\n    keep: {refresh: {{$what}}}"];
        foreach ([
            'cron that is none' => ['every: at noon', 'every', '"at noon" is no cron expression'],
            'a day that never comes' => ['every: "0 0 31 2 *"', 'every', 'never happens'],
            'a zone of no place' => ['every: "0 6 * * *", zone: Mars', 'zone', '"Mars" is no time zone'],
            'after its own table' => ['after: [borrowers, loan_items]', 'after[1]', '"loan_items" is filled by this endpoint itself'],
            'an environment it lacks' => ['in: [trial, production]', 'in[1]', 'has no environment "production"'],
            'an age that is none' => ['when_asked: {older_than: 2 hours}', 'when_asked.older_than', 'is no duration: PT15M'],
            'a time that is misspelt' => ['evry: "0 6 * * *"', '', '"every" was probably meant'],
        ] as $case => [$what, $where, $sentence]) {
            yield $case => [...$refresh($what), 15, 'endpoints[0].keep.refresh'.($where === '' ? '' : ".$where"), $sentence];
        }
        yield 'a test of nothing' => ['test: {endpoint: loans}', 'test: {endpoint: loan}', 11, 'source.test.endpoint', 'no endpoint "loan"'];
        yield 'a header with a line break' => ['accept: application/json', 'accept: "a\r\nb"', 7, 'source.headers.accept', 'no line break'];
        yield 'tabs' => ['  name: Loans desk', "\tname: Loans desk", 4, '', 'spaces, not tabs'];
        yield 'no YAML' => ['headers: {accept: application/json}', 'headers: {accept: application/json', 11, '', 'not YAML'];
        yield 'a zone that is none' => ['type: date', 'type: datetime, zone: Mars', null, '', 'not YAML'];
    }

    #[DataProvider('faults')]
    public function test_a_fault_has_its_line_its_path_and_what_is_allowed(string $old, string $new, ?int $line, string $path, string $says): void
    {
        self::assertStringContainsString($old, self::GOOD);
        $text = preg_replace('/'.preg_quote($old, '/').'/', addcslashes($new, '\\$'), self::GOOD, 1);
        try {
            SourceFile::read((string) $text);
            self::fail('It was taken.');
        } catch (InvalidSourceFile $invalid) {
            if ($line === null) {
                self::assertNotSame([], $invalid->faults);

                return;
            }
            $found = array_values(array_filter($invalid->faults, static fn (Fault $fault): bool => $fault->path === $path && str_contains($fault->message, $says)));
            self::assertNotSame([], $found, $invalid->getMessage());
            self::assertSame($line, $found[0]->line, $invalid->getMessage());
        }
    }

    public function test_a_good_file_comes_back_the_same(): void
    {
        $file = SourceFile::read(self::GOOD);
        self::assertSame($file->document, SourceFile::read($file->yaml())->document);
        self::assertSame($file->document, SourceFile::read((string) json_encode($file->document, JSON_PRETTY_PRINT))->document);
        self::assertSame(['token'], $file->secretNames());
    }

    public function test_every_fault_is_reported_at_once(): void
    {
        try {
            SourceFile::read(strtr(self::GOOD, ['slug: loans-desk' => 'slug: X Y', 'style: cursor' => 'style: magic', 'type: date' => 'type: money']));
            self::fail('It was taken.');
        } catch (InvalidSourceFile $invalid) {
            self::assertCount(3, $invalid->faults, $invalid->getMessage());
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function rubbish(): iterable
    {
        foreach (['', ' ', '[]', '5', '"x"', 'null', '{', '{"deepspring":1}', "deepspring: 1\nsource: []", 'deepspring: 1', "- a\n- b", "\xff\xfe", '!php/object:O:8:"stdClass":0:{}', 'a: &x [*x]'] as $text) {
            yield $text => [$text];
        }
    }

    #[DataProvider('rubbish')]
    public function test_rubbish_is_refused_with_a_sentence(string $text): void
    {
        $this->expectException(InvalidSourceFile::class);
        SourceFile::read($text);
    }

    public function test_the_demo_sources_are_valid(): void
    {
        foreach ((array) glob(__DIR__.'/../../../database/demo/*.yaml') as $path) {
            self::assertSame(basename((string) $path, '.yaml'), SourceFile::read((string) file_get_contents((string) $path))->slug());
        }
    }

    public function test_a_choice_of_the_wrong_shape_is_said_and_derives_nothing(): void
    {
        foreach (['entity_set' => 5, 'filter' => ['a'], 'order' => 1, 'search' => [], 'top' => 'ten', 'skip' => '1', 'select' => [1, 2], 'expand' => ['Items' => 3], 'page' => 'next'] as $name => $wrong) {
            try {
                SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 's', 'name' => 'S', 'kind' => 'odata', 'environments' => ['trial' => ['base' => 'https://x.example']]], 'endpoints' => [[$name => $wrong] + ['slug' => 'e', 'name' => 'E', 'entity_set' => 'Loans']]]);
                self::fail("$name was taken");
            } catch (InvalidSourceFile $invalid) {
                self::assertStringStartsWith("endpoints[0].$name", $invalid->faults[0]->path);
            }
        }
    }

    public function test_a_fingerprint_changes_with_its_part_alone(): void
    {
        $endpoint = ['ask' => ['path' => '/a'], 'answer' => ['records' => '$'], 'onward' => ['style' => 'none'], 'flatten' => ['table' => 't', 'columns' => []]];
        $before = SettingsFingerprint::hashes($endpoint, 'https://x.example');
        self::assertSame($before, SettingsFingerprint::hashes(array_reverse($endpoint, true) + ['name' => 'Other'], 'https://x.example'));
        self::assertSame(['ask'], array_keys(array_diff_assoc(SettingsFingerprint::hashes($endpoint, 'https://y.example'), $before)), 'the address belongs to what is asked');
        foreach (array_keys($endpoint) as $part) {
            self::assertSame([$part], array_keys(array_diff_assoc(SettingsFingerprint::hashes([$part => ['changed' => true]] + $endpoint, 'https://x.example'), $before)));
        }
    }
}
