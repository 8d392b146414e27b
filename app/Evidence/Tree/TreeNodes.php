<?php

declare(strict_types=1);

namespace App\Evidence\Tree;

/**
 * Where the nodes of an answer come from.
 */
interface TreeNodes
{
    /**
     * @param  list<array{string|int, int}>  $steps  to the node: member or index, and its place among its siblings
     * @param  int  $from  place of the first child that is wanted
     */
    public function children(array $steps, int $from, int $most): ?TreeChildren;
}
