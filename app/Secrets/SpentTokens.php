<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Models\Environment;
use App\Models\Source;
use App\Models\StoredToken;
use DeepSpring\Access\MissingVariable;
use DeepSpring\Access\OAuth\AuthorizationCode;
use Illuminate\Support\Carbon;

/**
 * Tokens that a changed secret makes useless.
 */
final readonly class SpentTokens
{
    /**
     * After a secret changed: tokens made with the old one are not used again. What a person agreed
     * to stays, and is renewed with the new secret.
     */
    public static function markFor(Source $source, Environment $environment): void
    {
        $consents = [];
        foreach (array_filter([$source->draft()?->file(), $source->published()]) as $file) {
            try {
                foreach ($file->source()->access($environment->slug) as $scheme) {
                    $consents[] = $scheme instanceof AuthorizationCode ? $scheme->id() : '';
                }
            } catch (MissingVariable) {
                continue;
            }
        }
        $tokens = StoredToken::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id]);
        (clone $tokens)->whereNotIn('scheme', $consents)->delete();
        $tokens->update(['expires_at' => Carbon::createFromTimestamp(1)]);
    }
}
