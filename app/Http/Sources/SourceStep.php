<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Http\Editing\Asked;

/**
 * What a button of a source's sheet asks for beyond the fields, as the sheet calls it in `do`.
 */
enum SourceStep: string
{
    case AddScheme = 'add-scheme';

    case ApplyEarlier = 'earlier';

    case CopyAddress = 'copy';

    /** What was removed changes which fields there are, and nothing else. */
    case Reshape = 'reshape';

    /**
     * The one that was asked for; null when only the fields were sent.
     */
    public static function chosen(Asked $asked): ?self
    {
        return self::tryFrom($asked->text('do'));
    }

    /**
     * @param  array<string, mixed>  $source  with the fields applied
     * @param  string  $environment  the current one
     * @return array<string, mixed>
     */
    public function apply(array $source, Asked $asked, string $environment): array
    {
        return match ($this) {
            self::AddScheme => self::withScheme($source, SchemeFields::fresh($asked->text('scheme'))),
            self::ApplyEarlier => SourceForm::earlier($source, $asked->number('scheme')),
            self::CopyAddress => SourceForm::copied($source, $asked->text('from'), $environment),
            self::Reshape => $source,
        };
    }

    /**
     * @param  array<string, mixed>  $source
     * @param  array<string, mixed>|null  $scheme  null where there is no such scheme
     * @return array<string, mixed>
     */
    private static function withScheme(array $source, ?array $scheme): array
    {
        if ($scheme !== null) {
            $source['access'][] = $scheme;
        }

        return $source;
    }
}
