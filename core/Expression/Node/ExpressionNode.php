<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\ValueKind;

interface ExpressionNode
{
    public function kind(): ValueKind;

    /**
     * Where it stands, in characters from 0.
     */
    public function position(): int;

    /**
     * What computes it from a row of values as the database reads them. It may throw `CannotEvaluate`.
     *
     * @return \Closure(array<mixed>): mixed
     */
    public function compile(): \Closure;
}
