<?php

declare(strict_types=1);

namespace StandIns;

interface StandIn
{
    public function answer(Request $request): Response;
}
