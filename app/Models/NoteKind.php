<?php

declare(strict_types=1);

namespace App\Models;

/**
 * What a note is about.
 */
enum NoteKind: string
{
    case Refresh = 'refresh';

    case Check = 'check';

    case Doubt = 'doubt';

    case Drift = 'drift';

    case Source = 'source';

    case Consent = 'consent';

    case Paused = 'paused';

    case Secret = 'secret';

    case Ageing = 'ageing';

    case View = 'view';
    case Feed = 'feed';

    /**
     * In a word or two, as a tag.
     */
    public function label(): string
    {
        return match ($this) {
            self::Refresh => 'failed', self::Check => 'check', self::Doubt => 'in doubt', self::Drift => 'drift', self::Source => 'refused',
            self::Consent => 'consent', self::Paused => 'paused', self::Secret => 'secret', self::Ageing => 'ageing', self::View => 'broken view', self::Feed => 'feed',
        };
    }

    /**
     * For a list of kinds.
     */
    public function title(): string
    {
        return match ($this) {
            self::Refresh => 'refresh failed', self::Check => 'check broken', self::Doubt => 'rows in doubt', self::Drift => 'records have changed', self::Source => 'source refused',
            self::Consent => 'consent is missing', self::Paused => 'source is paused', self::Secret => 'secret ends', self::Ageing => 'table is ageing', self::View => 'view cannot be read', self::Feed => 'feed has a fault',
        };
    }

    /**
     * What its link leads to.
     */
    public function opens(): string
    {
        return match ($this) {
            self::Refresh, self::Doubt => 'Open the run', self::Check, self::Ageing => 'Open the table', self::Drift => 'Resolve', self::Source, self::Consent, self::Paused => 'Open the source', self::Secret => 'Replace it', self::View => 'Open the query', self::Feed => 'Open the feed',
        };
    }

    /**
     * Whether something does not work, and not only asks for a look.
     */
    public function isFailure(): bool
    {
        return in_array($this, [self::Refresh, self::Source, self::Paused, self::View, self::Feed], true);
    }
}
