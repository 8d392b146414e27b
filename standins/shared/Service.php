<?php

declare(strict_types=1);

namespace StandIns;

interface Service
{
    public function answer(Request $request): Response;
}
