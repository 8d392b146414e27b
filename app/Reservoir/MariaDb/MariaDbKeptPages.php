<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;
use App\Reservoir\KeptPages;
use Illuminate\Database\Connection;

/**
 * Deflated, in a table beside the kept ones that nobody is granted.
 */
final readonly class MariaDbKeptPages implements KeptPages
{
    /** Bytes of a part of a page; a statement carries no more. */
    public const PART = 4_000_000;

    private string $table;

    public function __construct(private Connection $keeper, private string $schema, string $owner)
    {
        $this->table = self::tableName($owner);
    }

    public static function tableName(string $owner): string
    {
        return "pages__$owner";
    }

    public static function create(string $table): string
    {
        return "CREATE TABLE $table (page INT UNSIGNED NOT NULL, part INT UNSIGNED NOT NULL, type VARCHAR(200) NOT NULL, bytes BIGINT UNSIGNED NOT NULL, content LONGBLOB NOT NULL, PRIMARY KEY (page, part)) ENGINE=InnoDB ROW_FORMAT=DYNAMIC DEFAULT CHARSET=utf8mb4";
    }

    /**
     * @return array{pages: int, bytes: int, kept_at: string}|null null when there are none
     */
    public function about(): ?array
    {
        $there = $this->keeper->selectOne('select create_time as at, table_comment as whole from information_schema.tables where table_schema = ? and table_name = ?', [$this->schema, $this->table], false);
        if ($there === null || $there->whole !== 'whole') {
            return null;
        }
        $sum = $this->keeper->selectOne('SELECT COUNT(DISTINCT page) AS pages, COALESCE(SUM(LENGTH(content)), 0) AS bytes FROM '.Sql::table($this->schema, $this->table), [], false);

        return (int) ($sum->pages ?? 0) === 0 ? null : ['pages' => (int) $sum->pages, 'bytes' => (int) $sum->bytes, 'kept_at' => (string) $there->at];
    }

    /**
     * @return \Generator<int, array{string, string}> page → media type and body
     */
    public function pages(): \Generator
    {
        $table = Sql::table($this->schema, $this->table);
        for ($page = 0; ;) {
            $next = $this->keeper->selectOne("SELECT MIN(page) AS page FROM $table WHERE page > ?", [$page], false);
            if (($next->page ?? null) === null) {
                return;
            }
            $page = (int) $next->page;
            $content = '';
            $type = '';
            foreach ($this->keeper->select("SELECT type, content FROM $table WHERE page = ? ORDER BY part", [$page], false) as $part) {
                $content .= $part->content;
                $type = (string) $part->type;
            }
            $body = gzinflate($content);
            yield $page => [$type, $body === false ? throw KeepFailed::because("The kept page $page is damaged. Refresh the table instead.") : $body];
        }
    }

    public function forget(): void
    {
        $this->keeper->statement('DROP TABLE IF EXISTS '.Sql::table($this->schema, $this->table));
    }
}
