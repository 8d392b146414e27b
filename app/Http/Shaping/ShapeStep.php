<?php

declare(strict_types=1);

namespace App\Http\Shaping;

/**
 * One step of shaping, as the page calls it in `do`.
 */
enum ShapeStep: string
{
    case Undo = 'undo';
    case Redo = 'redo';
    case Propose = 'propose';
    case AddField = 'add';
    case AddLeaves = 'add-leaves';
    case ExcludeField = 'exclude';
    case MoveColumn = 'move';
    case DropColumn = 'drop';
    case RenameColumn = 'rename';
    case SetColumn = 'set';
    case ComputeColumn = 'compute';
    case Prefix = 'prefix';
    case Split = 'split';
    case MakeKey = 'make-key';
    case SetTable = 'table';
    case DropTable = 'drop-table';

    /** Whether it goes back and forth among what was done, and is no step of its own. */
    public function isOfHistory(): bool
    {
        return $this === self::Undo || $this === self::Redo;
    }
}
