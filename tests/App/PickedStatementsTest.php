<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;

/**
 * Statements that are put together by picking, held against the database.
 */
final class PickedStatementsTest extends AppTestCase
{
    /**
     * @param  array<string, string>  $step
     * @return array{string|null, string} the statement, null where the step was refused, and the page
     */
    private function take(string $sql, array $step, string $joining = ''): array
    {
        $page = (string) $this->post('/queries/build', ['sql' => $sql, 'cursor' => '0', 'step' => $step, 'joining' => $joining])->assertOk()->getContent();

        return [preg_match('/data-sql="([^"]*)"/', $page, $found) === 1 ? html_entity_decode($found[1], ENT_QUOTES) : null, $page];
    }

    public function test_whatever_is_picked_the_database_takes_the_statement(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        mt_srand(17);
        $ran = $refused = 0;
        for ($walk = 0; $walk < 12; $walk++) {
            [$sql] = $this->take('', ['do' => 'begin', 'table' => 'loans']);
            $joining = '';
            for ($step = 0; $step < 14; $step++) {
                $page = $this->take((string) $sql, [], $joining)[1];
                [$joining, $chosen] = $this->chosen($page);
                [$next, $told] = $chosen === null ? [null, ''] : $this->take((string) $sql, $chosen);
                if ($next === null) {
                    $refused += str_contains($told, 'role="alert"') ? 1 : 0;

                    continue;
                }
                try {
                    app(QueryRunner::class)->run($person, $this->trial(), str_replace(':house', "'north-quay'", $next));
                } catch (QueryRefused $fault) {
                    self::fail("{$fault->getMessage()}\n$sql\n".json_encode($chosen)."\n$next");
                }
                $sql = $next;
                $ran++;
            }
        }
        self::assertGreaterThan(100, $ran);
        self::assertLessThan($ran / 4, $refused);
    }

    private static function dom(string $page): \DOMXPath
    {
        $document = new \DOMDocument;
        $document->loadHTML('<?xml encoding="utf-8">'.$page, LIBXML_NOERROR);

        return new \DOMXPath($document);
    }

    /**
     * One of the steps that a page offers, by chance, with something chosen in its fields.
     *
     * @return array{string, array<string, string>|null} a table that is to be joined, and a step
     */
    private function chosen(string $page): array
    {
        $document = self::dom($page);
        $steps = [...$document->query('//*[@data-build]') ?: []];
        if (mt_rand(0, 5) === 0) {
            $ties = [...$document->query('//select[@data-joining]/option[starts-with(@value, "{")]') ?: []];
            $tie = $ties === [] ? null : $ties[mt_rand(0, count($ties) - 1)];

            return ['', $tie instanceof \DOMElement ? array_map(strval(...), (array) json_decode($tie->getAttribute('value'), true)) + ['kind' => mt_rand(0, 1) === 1 ? 'left join' : 'join'] : null];
        }
        $one = $steps[mt_rand(0, count($steps) - 1)];
        if (! $one instanceof \DOMElement) {
            return ['', null];
        }
        $step = array_map(strval(...), (array) json_decode($one->getAttribute('data-build'), true));
        $own = $one->getAttribute('data-build-field') === '' ? [] : [$one];
        foreach ([...$own, ...$document->query('ancestor::*[@data-build-group][1]//*[@data-build-field]', $one) ?: []] as $field) {
            if (! $field instanceof \DOMElement) {
                continue;
            }
            $options = array_values(array_filter(array_map(static fn (\DOMNode $option): string => $option instanceof \DOMElement && $option->hasAttribute('value') ? $option->getAttribute('value') : $option->textContent, [...$document->query('.//option', $field) ?: []]), static fn (string $value): bool => $value !== ''));
            $step[$field->getAttribute('data-build-field')] = $options !== [] ? $options[mt_rand(0, count($options) - 1)] : ['7', '3, 9', 'north-quay', ':house', '2031-04-09'][mt_rand(0, 4)];
        }
        if (($step['do'] ?? '') === 'name-column') {
            $step['value'] = 'called_'.mt_rand(1, 99);
        }

        return [mt_rand(0, 9) === 0 ? 'loan_items' : '', $step];
    }

    public function test_what_cannot_be_shown_is_said_and_stays_as_it_is(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($this->person(Role::Analyst));
        [$sql, $page] = $this->take('with a as (select 1) select * from a', []);
        self::assertNull($sql);
        self::assertStringContainsString('It begins with &quot;with&quot;. Only a plain SELECT can be shown here. The text stays as it is.', $page);
        [$sql, $page] = $this->take('select * from loans', ['do' => 'add-condition', 'column' => 'colour', 'how' => '=', 'value' => 'red']);
        self::assertNull($sql);
        self::assertStringContainsString('&quot;colour&quot; is no column of these tables.', $page);
        // Of a table that is a query nothing is known, and what is made of its columns is shown as it is written.
        [, $page] = $this->take('select l.house, sum(i.n) as n from loans l join (select loan_id, count(*) as n from loan_items group by loan_id) i on i.loan_id = l.loan_id group by l.house', []);
        self::assertMatchesRegularExpression('~<option value="sum"\s+selected~', $page);
        self::assertStringContainsString('<code class="grow">loans l</code>', $page);
        // Of several statements the one at the cursor.
        $two = "select 1;\nselect ref from loans";
        $page = (string) $this->post('/queries/build', ['sql' => $two, 'cursor' => '15', 'step' => ['do' => 'limit', 'value' => '5']])->getContent();
        self::assertStringContainsString('data-at="10" data-length="21"', $page);
        self::assertStringContainsString("data-sql=\"select ref from loans\nlimit 5\"", $page);
    }

    public function test_times_are_cut_by_the_clock_of_a_zone(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $person->update(['zone' => 'Europe/Oslo']);
        self::assertStringContainsString('Clock of', $this->take("select date_format(due, '%Y-%m') from loans", [])[1]);
        // Across the change of the clock: an hour that is skipped, and one that is there twice.
        $run = fn (string $sql): array => array_merge(...app(QueryRunner::class)->run($person, $this->trial(), $sql)->rows);
        $hour = static fn (string $moment): string => 'select '.\DeepSpring\Sql\Build\ColumnUse::Hour->sql("timestamp('$moment')", 'Europe/Oslo');
        self::assertSame(['2031-03-30 01:00', '2031-03-30 03:00', '2031-10-26 02:00', '2031-10-26 02:00'], array_merge(...array_map(static fn (string $moment): array => $run($hour($moment)), ['2031-03-30 00:59:59', '2031-03-30 01:00:00', '2031-10-26 00:30:00', '2031-10-26 01:30:00'])));
        self::assertSame(['2031-04-09 14:45:00'], array_map(static fn (?string $one): string => substr((string) $one, 0, 19), $run('select '.\DeepSpring\Sql\Build\ColumnUse::QuarterHour->sql("timestamp('2031-04-09 14:59:59.9')"))));
    }
}
