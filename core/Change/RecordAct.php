<?php

declare(strict_types=1);

namespace DeepSpring\Change;

/**
 * What is done to a record.
 */
enum RecordAct: string
{
    case Create = 'create';
    case Update = 'update';
    case Delete = 'delete';
    case Call = 'call';

    public function words(): string
    {
        return match ($this) {
            self::Create => 'will be created',
            self::Update => 'will be changed',
            self::Delete => 'will be deleted',
            self::Call => 'will be called',
        };
    }

    public function past(): string
    {
        return match ($this) {
            self::Create => 'created',
            self::Update => 'changed',
            self::Delete => 'deleted',
            self::Call => 'called',
        };
    }
}
