<?php

declare(strict_types=1);

namespace Tests\Core\Onward;

use DeepSpring\Onward\Detect\Detector;
use DeepSpring\Onward\Detect\FirstAnswer;
use DeepSpring\Onward\Detect\PagingProposal;
use DeepSpring\Onward\Figure;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\TestCase;

final class DetectorTest extends TestCase
{
    public function test_the_first_proposal_is_right_for_every_first_answer_and_none_is_made_without_a_sign(): void
    {
        $wrong = [];
        $count = 0;
        foreach ($this->table() as $name => [$answer, $expected]) {
            $first = (new Detector)->propose($answer)[0] ?? null;
            $got = $first?->onward;
            if ($expected === null) {
                self::assertNull($got, "$name: a proposal without a sign: ".json_encode($got));
            }
            $fits = $expected === null ? $got === null : $got !== null && array_intersect_key($got, $expected) == $expected;
            $count++;
            $fits || $wrong[] = "$name: ".json_encode($got, JSON_UNESCAPED_SLASHES);
        }
        self::assertGreaterThanOrEqual(60, $count);
        self::assertSame([], $wrong);
    }

    public function test_every_proposal_can_be_put_into_a_source_file_and_says_why(): void
    {
        $count = 0;
        foreach ($this->table() as $name => [$answer]) {
            $before = 101;
            foreach ((new Detector)->propose($answer) as $proposal) {
                $count++;
                $document = ['deepspring' => 1, 'source' => ['slug' => 's', 'name' => 'S', 'environments' => ['trial' => ['base' => 'http://h.example']]], 'endpoints' => [['slug' => 'e', 'name' => 'E', 'ask' => ['method' => $answer->method, 'path' => '/e'], 'onward' => $proposal->onward]]];
                self::assertSame($proposal->onward['style'], SourceFile::of($document)->endpoints()[0]->onward()->style, $name);
                self::assertStringEndsWith('.', $proposal->reason, $name);
                self::assertStringEndsWith('.', $proposal->proof, $name);
                self::assertLessThanOrEqual($before, $proposal->weight, "$name is ranked");
                $before = $proposal->weight;
                self::assertContains($proposal->onward['style'], \DeepSpring\Onward\Pagers::family()->names());
            }
        }
        self::assertGreaterThan(60, $count);
    }

    public function test_the_reason_names_what_was_seen(): void
    {
        $proposal = $this->first('{"data": [{"id": 1}], "next": "bG9", "has_more": true}');
        self::assertSame('$.next holds a token and $.has_more is true.', $proposal?->reason);
        self::assertSame('With after the next page holds other records, and the last one has no token.', $proposal->proof);
    }

    public function test_hostile_answers_are_no_sign(): void
    {
        foreach (['null', '[]', '0', '"next"', '{}', '{"next": {}}', '{"next": []}', '{"items": [null, 1], "next": {"next": {"next": {"next": {"next": {"next": "x"}}}}}}', '{"items": [{"id": 1}], "next": "'.str_repeat('x', 5000).'"}', '[[[[]]]]'] as $body) {
            self::assertNull($this->first($body), $body);
        }
    }

    public function test_a_figure_is_read_at_a_path_or_in_a_header(): void
    {
        $page = static fn (string $body, array $headers = []): \DeepSpring\Onward\Page => new \DeepSpring\Onward\Page(1, json_decode($body), 1, 1, 'http://h.example', '', $headers);
        foreach ([['$.total', '{"total": 12}', 12], ['$.total', '{"total": "12"}', 12], ['$.total', '{"total": 12.0}', 12], ['$.total', '{"total": 12.5}', null], ['$.total', '{"total": "many"}', null], ['$.total', '{"total": -1}', -1], ['$.a.b', '{"a": null}', null]] as [$figure, $body, $expected]) {
            self::assertSame($expected, Figure::parse($figure)->read($page($body)), $body);
        }
        self::assertSame(640, Figure::parse('X-Total-Count')->read($page('[]', ['x-total-count' => '640'])));
        self::assertNull(Figure::parse('X-Total-Count')->read($page('[]')));
    }

    private function first(string $body): ?PagingProposal
    {
        return (new Detector)->propose(new FirstAnswer('GET', 'http://h.example/list', 200, [], json_decode($body)))[0] ?? null;
    }

    /**
     * @return iterable<string, array{FirstAnswer, array<string, mixed>|null}>
     */
    private function table(): iterable
    {
        $records = json_encode(array_map(static fn (int $id): array => ['id' => $id, 'name' => "Crate $id", 'next' => "/crates/$id", 'page' => $id], range(1, 10)));
        foreach (require __DIR__.'/first-answers.php' as $name => $row) {
            $body = (string) preg_replace('/\bR\b(?=[,}]|$)/', (string) $records, $row[0]);
            $document = json_decode($body, false, 512, JSON_THROW_ON_ERROR);
            yield $name => [new FirstAnswer($row[5] ?? 'GET', 'http://h.example'.($row[2] ?? '/list'), 200, $row[3] ?? [], $document, null, $row[4] ?? []), $row[1]];
        }
    }
}
