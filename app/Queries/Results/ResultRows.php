<?php

declare(strict_types=1);

namespace App\Queries\Results;

use App\Models\QueryResult;
use Illuminate\Support\Facades\DB;

/**
 * Rows of a result that is kept, deflated, in parts of a thousand.
 */
final class ResultRows
{
    public const PART = 1000;

    /** @var list<list<string|null>> */
    private array $waiting = [];

    private int $part = 0;

    public function __construct(private readonly QueryResult $result)
    {
    }

    /**
     * @param  list<string|null>  $row
     */
    public function add(array $row): void
    {
        $this->waiting[] = $row;
        if (count($this->waiting) === self::PART) {
            $this->write();
        }
    }

    /**
     * What waits is written, and counted.
     */
    public function finish(): void
    {
        $this->write();
        $this->result->save();
    }

    private function write(): void
    {
        if ($this->waiting === []) {
            return;
        }
        $content = (string) gzdeflate((string) json_encode($this->waiting, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), 1);
        DB::table('query_result_parts')->insert(['result_id' => $this->result->id, 'part' => $this->part++, 'content' => $content]);
        $this->result->rows += count($this->waiting);
        $this->result->bytes += strlen($content);
        $this->waiting = [];
    }

    /**
     * @return list<list<string|null>> none for a part that is not there
     */
    public static function part(QueryResult $result, int $part): array
    {
        $content = DB::table('query_result_parts')->where(['result_id' => $result->id, 'part' => $part])->value('content');
        $rows = is_string($content) ? json_decode((string) gzinflate($content), true) : null;

        return is_array($rows) ? array_values($rows) : [];
    }
}
