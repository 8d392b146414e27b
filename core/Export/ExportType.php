<?php

declare(strict_types=1);

namespace DeepSpring\Export;

enum ExportType
{
    case Text;
    case Integer;
    case Decimal;
    case Float;
    case Date;
    case DateTime;
    case Time;

    public function isNumber(): bool
    {
        return $this === self::Integer || $this === self::Decimal || $this === self::Float;
    }
}
