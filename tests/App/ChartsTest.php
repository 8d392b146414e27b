<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use PHPUnit\Framework\Attributes\DataProvider;

final class ChartsTest extends AppTestCase
{
    private const SEQUENCE = 'with recursive s as (select 1 as seq union all select seq + 1 from s where seq < 60) ';

    /**
     * @return iterable<string, array{string, string, list<string>}> SQL, which of the pictures, parts of it
     */
    public static function pictures(): iterable
    {
        $days = self::SEQUENCE."select date('2031-01-01') + interval seq day as day, seq * 3 as n, if(seq = 5, null, seq) as m from s";
        yield 'a line' => [$days, '0', ['n, m by day, line', '>n</text>', '>m</text>']];
        yield 'weekdays' => [str_replace('day as day', 'hour as day', $days), '2', ['heat map by weekday and hour', '>Mon</text>', 'mean of n']];
        yield 'points' => [$days, '3', ['m by n, scatter', '<circle']];
        yield 'several, each with its own scale' => [$days, '1', ['small multiples', '>n</text>', '>m</text>', 'each with a scale of its own']];
        yield 'one for each name' => [str_replace('seq * 3 as n', "if(seq % 2 = 0, 'even', 'odd') as house, seq * 3 as n", str_replace(', if(seq = 5, null, seq) as m', '', $days)), '1', ['small multiples', '>even</text>', '>odd</text>']];
        yield 'a distribution' => [$days, '4', ['rows by n, histogram', '<rect']];
        yield 'bars' => ["select 'Osmery & <b>' as town, 5 as n union all select null, -2", '0', ['n by town, bar', 'Osmery &amp; &lt;b&gt;', '>—</text>', 'width="']];
        yield 'stacked' => ["select 'a' as x, 'p' as y, 1 as n union all select 'a', 'q', 2 union all select 'b', 'p', 4", '0', ['stacked bar', '>3</text>', '>4</text>']];
        yield 'one value' => ['select now() as at, 1.5 as n', '0', ['n by at, line', '<circle']];
        yield 'only nulls' => ["select date('2031-01-01') as day, cast(null as decimal(5,2)) as n", '0', ['n by day, line']];
    }

    /**
     * @param  list<string>  $parts
     */
    #[DataProvider('pictures')]
    public function test_rows_are_drawn_by_their_shape(string $sql, string $shape, array $parts): void
    {
        $this->actingAs($this->person(Role::Analyst));
        $page = $this->post('/queries/chart', ['sql' => $sql, 'shape' => $shape])->assertOk();
        foreach ($parts as $part) {
            $page->assertSee($part, false);
        }
        preg_match('~<svg.*</svg>~s', (string) $page->getContent(), $svg);
        self::assertNotFalse((new \DOMDocument)->loadXML($svg[0] ?? ''));
        self::assertStringNotContainsString('NAN', strtoupper((string) preg_replace('/<text.*?<\/text>|<title.*?<\/title>|aria-label="[^"]*"/', '', $svg[0] ?? '')));
    }

    public function test_what_cannot_be_drawn_is_said(): void
    {
        $this->actingAs($this->person(Role::Analyst));
        $this->post('/queries/chart', ['sql' => "select 'a' as x"])->assertSee('A chart needs a column of amounts.');
        $this->post('/queries/chart', ['sql' => 'select nowhere from nothing'])->assertOk()->assertSee('role="status"', false);
        $this->post('/queries/chart', ['sql' => 'drop table x'])->assertSee('starts with select');
        $this->post('/queries/chart', ['sql' => 'select now() as d, 1 as n, 2 as n'])->assertSee('Two columns of a query in brackets are called');
        $many = self::SEQUENCE.'select concat("h", seq) as house, seq as n from s where seq <= 50';
        $this->post('/queries/chart', ['sql' => $many])->assertSee('The first 30 are drawn; 20 rows are of others.');
        $this->post('/queries/run', ['sql' => $many])->assertSee('Draw a chart');
        $this->post('/queries/run', ['sql' => "select 'a' as x"])->assertDontSee('Draw a chart');
    }
}
