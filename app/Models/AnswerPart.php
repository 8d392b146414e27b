<?php

declare(strict_types=1);

namespace App\Models;

/**
 * Some children of one node of a large answer.
 *
 * @property int $exchange_id
 * @property string $node hash of the steps to it
 * @property int $number how many children it has in all
 * @property int $first place of the first child that is in this part
 * @property string $content deflated JSON
 */
final class AnswerPart extends Record
{
    public $timestamps = false;

    protected $guarded = [];
}
