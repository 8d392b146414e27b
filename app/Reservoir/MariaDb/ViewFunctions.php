<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Reservoir\Views;
use DeepSpring\Feed\FilterSql;
use Illuminate\Database\Connection;

/**
 * Two functions that views can call, made in the schema of an environment when a view first does: what is set for the
 * account that reads, whatever view it reads through; and what a reader asks with, which stands in a variable of its
 * connection.
 */
final readonly class ViewFunctions
{
    /** What the application wrote down for each account. No account of a reader may read it. */
    public const VALUES = 'values__of_readers';

    private const TYPE = 'CHARSET utf8mb4 COLLATE utf8mb4_nopad_bin';

    public function __construct(private Connection $keeper)
    {
    }

    /**
     * Lets an account define a view with such a statement.
     *
     * @param  string  $who  quoted, with its host
     */
    public function letCall(Environment $environment, string $who, string $sql): void
    {
        foreach ([FilterSql::READER_FUNCTION, Views::ASKED_FUNCTION] as $function) {
            if (preg_match("/\b$function\b/", $sql) === 1) {
                $this->make($environment, $function);
                $this->keeper->unprepared('GRANT EXECUTE ON FUNCTION '.Sql::table($environment->schema(), $function)." TO $who");
            }
        }
    }

    /**
     * Writes down what is set for an account.
     *
     * @param  array<string, string>  $values  by name
     */
    public function set(Environment $environment, string $account, array $values): void
    {
        $this->makeValues($environment);
        $table = Sql::table($environment->schema(), self::VALUES);
        $was = [];
        foreach ($this->keeper->select("select name, value from $table where account = ?", [$account], false) as $row) {
            $was[(string) $row->name] = (string) $row->value;
        }
        foreach (array_diff_key($was, $values) as $name => $gone) {
            $this->keeper->delete("delete from $table where account = ? and name = ?", [$account, (string) $name]);
        }
        foreach (array_diff_assoc($values, $was) as $name => $value) {
            $this->keeper->statement("replace into $table (account, name, value) values (?, ?, ?)", [$account, (string) $name, $value]);
        }
    }

    private function makeValues(Environment $environment): void
    {
        $this->keeper->unprepared('CREATE TABLE IF NOT EXISTS '.Sql::table($environment->schema(), self::VALUES).' (account VARCHAR(80) NOT NULL, name VARCHAR(60) NOT NULL, value VARCHAR(500) NOT NULL, PRIMARY KEY (account, name)) ENGINE=InnoDB '.self::TYPE);
    }

    private function make(Environment $environment, string $function): void
    {
        if ($function === FilterSql::READER_FUNCTION) {
            $this->makeValues($environment);
            // USER() is whoever signed in to the database, also inside a view that another account defined.
            $body = "CREATE FUNCTION IF NOT EXISTS %s (wanted VARCHAR(60) %s) RETURNS VARCHAR(500) %s DETERMINISTIC READS SQL DATA SQL SECURITY DEFINER RETURN (SELECT v.value FROM %s v WHERE v.account = CONVERT(SUBSTRING_INDEX(USER(), '@', 1) USING utf8mb4) COLLATE utf8mb4_nopad_bin AND v.name = wanted)";
            $this->keeper->unprepared(sprintf($body, Sql::table($environment->schema(), $function), self::TYPE, self::TYPE, Sql::table($environment->schema(), self::VALUES)));

            return;
        }
        $this->keeper->unprepared(sprintf("CREATE FUNCTION IF NOT EXISTS %s (wanted VARCHAR(200) %s) RETURNS LONGTEXT %s DETERMINISTIC NO SQL SQL SECURITY INVOKER RETURN JSON_VALUE(%s, CONCAT('$.\"', wanted, '\"'))", Sql::table($environment->schema(), $function), self::TYPE, self::TYPE, Views::ASKED));
    }
}
