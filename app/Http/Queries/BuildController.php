<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Queries\IndexAdvisor;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use DeepSpring\Sql\Build\CannotBuild;
use DeepSpring\Sql\Build\ReadTable;
use DeepSpring\Sql\Build\ReadTables;
use DeepSpring\Sql\Build\SelectSteps;
use DeepSpring\Sql\Build\SelectText;
use DeepSpring\Sql\NamedTable;
use DeepSpring\Sql\NamedTables;
use DeepSpring\Sql\StatementText;
use Illuminate\Contracts\View\View;

/**
 * The statement at the cursor as parts that can be picked, and one step of changing it.
 */
final class BuildController extends Controller
{
    public function __invoke(LiveTables $live, IndexAdvisor $advisor): View
    {
        $text = request()->input('sql');
        $text = is_string($text) ? mb_strcut(str_replace("\r\n", "\n", $text), 0, (int) config('spring.query.statement_bytes'), 'UTF-8') : '';
        $statement = StatementText::at($text, (int) $this->text('cursor'));
        $known = new KnownTables($this->environment(), $live, $advisor);
        $step = array_map(strval(...), array_filter((array) request()->input('step', []), is_scalar(...)));
        $at = $statement->at ?? strlen($text);
        $was = $statement->sql ?? '';
        try {
            $sql = $step === [] ? $was : $this->taken($was, $step, $known);
            $refused = null;
        } catch (CannotBuild $cannot) {
            [$sql, $refused] = [$was, $cannot->getMessage()];
        }
        try {
            $select = $sql === '' ? null : SelectText::of($sql);
            $why = null;
        } catch (CannotBuild $cannot) {
            [$select, $why] = [null, $cannot->getMessage()];
        }
        $zone = $this->person()->zone;

        return view('queries.build', ['build' => new BuildSheet($select, self::tables($sql, $known), $known, $zone), 'why' => $why, 'refused' => $refused, 'sql' => $sql === $was ? null : $sql,
            'at' => QueryRunController::characters(substr($text, 0, $at)), 'length' => QueryRunController::characters($was), 'joining' => $step['do'] ?? '' ? '' : $this->text('joining')]);
    }

    /**
     * @param  array<string, string>  $step
     *
     * @throws CannotBuild
     */
    private function taken(string $sql, array $step, KnownTables $known): string
    {
        $table = $step['table'] ?? '';
        if (($step['do'] ?? '') === 'begin') {
            return $known->types($table) === [] ? throw CannotBuild::because("There is no table \"$table\" here.") : "select *\nfrom $table\nlimit 100";
        }

        return (new SelectSteps(SelectText::of($sql), self::tables($sql, $known)))->taken($step, $table === '' ? [] : $known->types($table))->sql();
    }

    public static function tables(string $sql, KnownTables $known): ReadTables
    {
        return new ReadTables(array_map(static fn (NamedTable $one): ReadTable => new ReadTable($one->name, $one->alias, array_change_key_case($known->types($one->name))), self::outermost($sql)));
    }

    /**
     * Tables that the statement itself reads, without those of queries within it.
     *
     * @return list<NamedTable>
     */
    private static function outermost(string $sql): array
    {
        try {
            $from = implode("\n", SelectText::of($sql)->items['from'] ?? []);
        } catch (CannotBuild) {
            return [];
        }

        return array_values(array_filter(NamedTables::of("select 1 from $from"), static fn (NamedTable $one): bool => substr_count(substr("select 1 from $from", 0, $one->at), '(') === substr_count(substr("select 1 from $from", 0, $one->at), ')')));
    }
}
