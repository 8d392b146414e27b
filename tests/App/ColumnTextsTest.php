<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\KeptTable;
use App\Models\Role;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\QueryBook;

/**
 * What people say of tables and columns, wherever it is of use.
 */
final class ColumnTextsTest extends AppTestCase
{
    private const CHANGES = [
        '{name: cover, from: "$.insurance.value", type: decimal, scale: 2}' => '{name: cover, from: "$.insurance.value", type: decimal, scale: 2, title: Insured for, unit: SMK, comment: "What the borrower insures it for — während der Leihe"}',
        'table: loans' => "table: loans\n      title: Loans of the circle\n      owner: The loans desk\n      comment: One row for each loan that was ever agreed",
    ];

    public function test_what_a_source_file_says_is_in_completion_heads_exports_and_find(): void
    {
        $this->refresh($this->source('loans-desk', self::CHANGES), 'loans');
        $table = KeptTable::query()->where('name', 'loans')->sole();
        self::assertSame(['Loans of the circle', 'The loans desk'], [$table->title(), $table->texts['owner'] ?? null]);
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/tables/loans')->assertSee('Loans of the circle')->assertSee('The loans desk answers for it')->assertSee('One row for each loan')->assertSee('Insured for (SMK): What the borrower insures it for');
        $proposed = fn (string $sql): array => array_column($this->post('/queries/complete', ['sql' => $sql, 'cursor' => (string) strlen('select cov')])->json('proposed'), 'detail', 'label');
        self::assertStringContainsString('Insured for (SMK)', $proposed('select cov from loans')['cover']);
        $this->get('/queries/new')->assertSee('Loans of the circle');
        $this->post('/queries/run', ['sql' => 'select upper(house), l.cover as worth, count(*) from loans l group by 1, 2'])->assertSee('"name":"worth","kind":"amount","about":"Insured for (SMK)', false);

        foreach (['WÄHREND' => 'cover', 'insured' => 'cover', 'loans desk' => 'loans', 'ever agreed' => 'loans'] as $text => $name) {
            $this->get('/find?q='.urlencode($text))->assertOk()->assertSee(">$name<", false);
        }
        $this->get('/find?q=nobody-said-this')->assertDontSee('cover');

        $export = fn (string $as, string $titles): string => $this->exported('select loan_id, cover, cover as again from loans order by loan_id limit 1', $as, $titles);
        self::assertStringStartsWith("loan_id,cover,again\r\n", $export('csv', ''));
        self::assertStringStartsWith("loan_id,Insured for (SMK),Insured for (SMK) 2\r\n", $export('csv', '1'));
        self::assertStringContainsString('"cover":', $export('json', '1'));
    }

    private function exported(string $sql, string $as, string $titles): string
    {
        $said = (string) $this->post('/queries/export', ['sql' => $sql, 'as' => $as, 'exact' => '1', 'titles' => $titles])->assertOk()->getContent();
        preg_match('~/queries/export/([a-z0-9]+)~', $said, $found);
        $file = $this->get("/queries/export/$found[1]")->assertOk()->baseResponse;

        return $file instanceof \Symfony\Component\HttpFoundation\BinaryFileResponse ? (string) file_get_contents($file->getFile()->getPathname()) : '';
    }

    public function test_what_is_published_holds_without_a_refresh(): void
    {
        $this->refresh($this->source(), 'loans');
        self::assertSame('', KeptTable::query()->where('name', 'loans')->sole()->title());
        $this->source('loans-desk', self::CHANGES);
        self::assertSame('Loans of the circle', KeptTable::query()->where('name', 'loans')->sole()->title());
        self::assertSame(1, \App\Models\Run::query()->count());
    }

    public function test_a_column_that_another_query_reads_is_named_before_it_goes(): void
    {
        $this->refresh($this->source(), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $book = app(QueryBook::class);
        $query = $book->add(['name' => 'Dear loans', 'sql' => 'select loan_id, cover as worth, house from loans'], $person);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'dear_loans', $person);
        $book->add(['name' => 'Worth by house', 'sql' => 'select house, sum(worth) as worth from dear_loans group by house'], $person);
        $save = fn (string $sql, string $lose = '') => $this->from("/queries/$query->id")->post("/queries/$query->id", ['name' => 'Dear loans', 'sql' => $sql, 'seen' => (string) $query->refresh()->version, 'lose' => $lose]);
        // What nobody reads goes without a word.
        $save('select cover as worth, house from loans')->assertSessionHasNoErrors();
        $save('select house from loans')->assertSessionHasErrors(['sql' => 'dear_loans would no longer have worth, which may be read by Worth by house. Nothing is saved yet.']);
        self::assertSame(2, $query->refresh()->version);
        $this->get("/queries/$query->id")->assertOk();
        $save('select house from loans', '1')->assertSessionHasNoErrors();
        self::assertSame(3, $query->refresh()->version);
    }

    public function test_a_query_takes_over_what_is_said_and_its_owner_says_more(): void
    {
        $this->refresh($this->source('loans-desk', self::CHANGES), 'loans');
        $this->actingAs($person = $this->person(Role::Analyst));
        $query = app(QueryBook::class)->add(['name' => 'Dear loans', 'sql' => 'select loan_id, cover as worth, cover * 2 as twice from loans'], $person);
        app(QueryKeeping::class)->asView($query, $this->trial(), 'dear_loans', $person);
        $about = static fn (): array => array_map(static fn ($one): string => $one->about(), KeptTable::query()->where('name', 'dear_loans')->sole()->keptColumns());
        self::assertSame(['', 'Insured for (SMK): What the borrower insures it for — während der Leihe', ''], $about());
        $this->get("/queries/$query->id")->assertSee('What its columns mean')->assertSee('Insured for');
        $this->post("/queries/$query->id/keep/texts", ['texts' => ['twice' => ['title' => 'Twice that', 'unit' => 'SMK', 'comment' => ''], 'worth' => ['title' => '', 'unit' => '', 'comment' => 'Worth.'], 'none' => ['title' => 'x']]])->assertRedirect();
        self::assertSame(['', 'Worth.', 'Twice that (SMK)'], $about());
        // A change of the query leaves what was said.
        app(QueryBook::class)->change($query, ['name' => 'Dear loans', 'sql' => 'select loan_id, cover as worth, cover * 3 as twice, ref from loans'], $person);
        self::assertSame(['', 'Worth.', 'Twice that (SMK)', ''], $about());
        $this->post("/queries/$query->id/keep/texts", ['texts' => ['twice' => ['title' => str_repeat('x', 300)]]])->assertSessionHasErrors('texts');
        $this->actingAs($this->person(Role::Builder))->post("/queries/$query->id/keep/texts", ['texts' => []])->assertForbidden();
    }
}
