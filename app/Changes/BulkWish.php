<?php

declare(strict_types=1);

namespace App\Changes;

use DeepSpring\Change\RecordAct;

/**
 * A change in bulk, as somebody wants it.
 */
final readonly class BulkWish
{
    /**
     * @param  string  $from  rows (of the table), query, or block (pasted or uploaded)
     * @param  string  $where  an expression over the row; empty for all rows
     * @param  string  $sql  a statement whose rows carry the key of the table
     * @param  list<list<string>>  $block  a line of headings, then rows
     * @param  string  $do  set, delete, call, put (create what is new, change what is there), create
     * @param  array<string, string>  $sets  column → text, or an expression after "="
     * @param  array<string, string>  $given  inputs of an action
     */
    public function __construct(public string $from, public string $where = '', public string $sql = '', public array $block = [], public string $do = 'set', public array $sets = [], public int $action = 0, public array $given = [])
    {
    }

    public function act(): RecordAct
    {
        return match ($this->do) {
            'delete' => RecordAct::Delete, 'call' => RecordAct::Call, 'create' => RecordAct::Create, default => RecordAct::Update,
        };
    }
}
