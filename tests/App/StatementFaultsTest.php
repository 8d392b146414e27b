<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use DeepSpring\Sql\SqlFunctions;

/**
 * What MariaDB itself says of wrong statements, in our words.
 */
final class StatementFaultsTest extends AppTestCase
{
    /** SQL, what is said of it, and what is underlined. */
    private const FAULTS = [
        ['select * from lonas', 'There is no table "lonas" that you can read in Trial. Did you mean loans?', 'lonas'],
        ['select * from Loans', 'There is no table "Loans" that you can read in Trial. Did you mean loans?', 'Loans'],
        ['select * from quite_another_thing', 'There is no table "quite_another_thing" that you can read in Trial. The tables are listed beside the editor.', 'quite_another_thing'],
        ['select * from mysql.user', '"mysql.user" cannot be read here.', 'user'],
        ['select borower from loans', 'There is no column "borower". Did you mean borrower?', 'borower'],
        ['select l.borower from loans l', 'There is no column "borower" in l. Did you mean borrower?', 'l.borower'],
        ['select x.ref from loans l', 'No table is called "x" in this query. Did you mean l.ref? loans is called l.', 'x.ref'],
        ['select `borower` from loans', 'Did you mean borrower?', '`borower`'],
        ["select *\nform loans", 'from line 2 on, at "form loans". Did you mean from in place of form?', 'form'],
        ['select * from loans wher ref = 1', 'Did you mean where in place of wher?', 'wher'],
        ['select * form loans where ref = 1', 'Did you mean from in place of form?', 'form'],
        ['select ref, from loans', 'There is a comma too many before it.', 'from'],
        ['select ref house due from loans', 'Perhaps a comma is missing before it.', 'due'],
        ['select * from loans where', 'The query ends too early, after "where".', 'where'],
        ['select * from loans where house in (1,2', 'the bracket that opens in line 1 is not closed.', '('],
        ['select * from (select 1)', 'needs a name behind it', ')'],
        ["select ref\nfrom loans where ref = 'x", "The text that begins with ' in line 2 has no end.", "'x"],
        ['select count (*) from loans', 'Between count and its bracket no blank may stand: count(*).', 'count (*'],
        ['select top 5 ref from loans', 'MariaDB has no TOP: write "limit 5" at the end.', 'top'],
        ["select * from loans where ref ilike 'n%'", 'MariaDB has no ILIKE', 'ilike'],
        ['select ref, count(*) from loans', 'each other column has to be grouped', 'select'],
        ['select ref from loans group by house', '"ref" is neither grouped nor put together. Add it to "group by", or take min(ref) or max(ref).', 'ref'],
        ['select ref from loans a join loans b on a.ref = b.ref', 'Several tables have a column "ref": write a.ref or b.ref.', 'ref'],
        ['select lenght(ref) from loans', 'There is no function "lenght". Did you mean length()?', 'lenght'],
        ["select string_agg(ref, ',') from loans", 'In MariaDB group_concat() comes closest.', 'string_agg'],
        ['select date_format(due) from loans', 'date_format() has another number of values: date_format(moment, pattern), for example', 'date_format'],
        ['select * from loans where count(*) > 1', 'Put that condition into HAVING.', 'where'],
        ['select (select ref from loans)', 'gives more than one row', null],
        ['select ref from loans union select ref, house from loans', 'different numbers of columns', 'union'],
        ['select ref r from loans where r = 1', '"r" is a name that the query itself gives, and WHERE is looked at before that.', 'r'],
        ['select ref from loans order by 5', 'There is no column number 5 in the result.', '5'],
        ['select cast(ref as int64) from loans', 'There is no type "int64".', 'int64'],
        ['select 9223372036854775807 + 1', 'larger than 64 bits hold', null],
        ["select ref from loans where ref regexp '('", 'The regular expression cannot be read: missing closing parenthesis', 'regexp'],
        ['select * from loans, loans', 'Two tables are called "loans" here.', 'loans'],
        ['select 1 from (select ref, ref from loans) x', 'Two columns of a query in brackets are called "ref".', 'ref'],
        ['select l.* from loans', 'No table is called "l"', 'l'],
    ];

    public function test_each_mistake_is_told_in_words_at_its_place_and_without_names_of_schemas(): void
    {
        $this->refresh($this->source(), 'loans');
        $person = $this->person(Role::Analyst);
        foreach (self::FAULTS as [$sql, $says, $underlined]) {
            $refused = $this->refusal($person, $sql);
            $fault = $refused->fault ?? self::fail($sql);
            self::assertStringContainsString($says, $fault->sentence, $sql);
            self::assertSame($underlined, $fault->at === null ? null : substr($sql, $fault->at, $fault->length), "$sql: $fault->sentence");
            self::assertDoesNotMatchRegularExpression('/deep_spring|reader_|127\.0/', $fault->sentence, $sql);
        }
    }

    public function test_what_may_have_been_meant_runs_in_its_place(): void
    {
        $this->refresh($this->source(), 'loans');
        $person = $this->person(Role::Analyst);
        $mended = 0;
        foreach (self::FAULTS as [$sql]) {
            $fault = $this->refusal($person, $sql)->fault;
            if ($fault?->at !== null && $fault->instead !== null) {
                app(QueryRunner::class)->run($person, $this->trial(), substr_replace($sql, $fault->instead, $fault->at, $fault->length));
                $mended++;
            }
        }
        self::assertGreaterThanOrEqual(11, $mended);
    }

    public function test_every_function_of_the_list_runs_as_its_example_stands(): void
    {
        $person = $this->person(Role::Analyst);
        self::assertGreaterThan(120, count(SqlFunctions::all()));
        foreach (SqlFunctions::all() as $function) {
            self::assertCount(1, app(QueryRunner::class)->run($person, $this->trial(), "select $function->example")->rows, $function->name);
            self::assertStringContainsString(strtok($function->name, ' '), $function->example, $function->name);
        }
    }

    private function refusal(User $person, string $sql): QueryRefused
    {
        try {
            app(QueryRunner::class)->run($person, $this->trial(), $sql);
        } catch (QueryRefused $refused) {
            return $refused;
        }
        self::fail("$sql went through.");
    }
}
