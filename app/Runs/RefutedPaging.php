<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Tryout;
use DeepSpring\SourceFile\SettingsFingerprint;

/**
 * Ways to the next page that tries of the same request, read in the same way, have shown not to work: they are
 * not proposed again.
 */
final class RefutedPaging
{
    /** How many tries are looked back to. */
    private const TRIES = 50;

    /** @var array<string, true>|null by the hash of what was set */
    private ?array $refuted = null;

    /**
     * @param  array<string, mixed>  $endpoint  of a source file, as it is now
     */
    public function __construct(private readonly Endpoint $row, private readonly Environment $environment, private readonly array $endpoint, private readonly string $base)
    {
    }

    /**
     * @param  array<string, mixed>  $onward  of a source file
     */
    public function has(array $onward): bool
    {
        return isset($this->hashes()[SettingsFingerprint::hashes(['onward' => $onward], '')['onward']]);
    }

    /**
     * @return array<string, true>
     */
    private function hashes(): array
    {
        if ($this->refuted === null) {
            $this->refuted = [];
            $now = SettingsFingerprint::hashes($this->endpoint, $this->base);
            $tries = Tryout::query()->where('endpoint_id', $this->row->id)->where('environment_id', $this->environment->id)->latest('id')->limit(self::TRIES)->get(['id', 'succeeded', 'diagnosis', 'strata']);
            // The latest word on each counts: what has worked since is not refuted.
            foreach ($tries->reverse() as $try) {
                $isSame = ($try->strata['ask'] ?? '') === $now['ask'] && ($try->strata['answer'] ?? '') === $now['answer'];
                if ($isSame && $try->succeeded) {
                    unset($this->refuted[$try->strata['onward'] ?? '']);
                } elseif ($isSame && ($try->diagnosis['code'] ?? '') === 'onward') {
                    $this->refuted[$try->strata['onward'] ?? ''] = true;
                }
            }
        }

        return $this->refuted;
    }
}
