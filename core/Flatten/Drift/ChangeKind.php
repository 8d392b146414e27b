<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

enum ChangeKind: string
{
    case NewField = 'new field';
    case FieldGone = 'field gone';
    case OtherType = 'other type';
    case LongerText = 'longer text';
    case NewValue = 'new value';
    case Emptied = 'emptied';

    /**
     * What a person can answer with one press.
     *
     * @return list<string>
     */
    public function answers(): array
    {
        return match ($this) {
            self::NewField => ['add', 'leave out', 'accept'],
            self::OtherType => ['change type', 'accept'],
            self::FieldGone => ['drop column', 'accept'],
            default => ['accept'],
        };
    }
}
