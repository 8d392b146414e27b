<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\KeptTable;
use App\Models\Run;
use App\Models\Validator;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * Whether a service can say in one request that nothing has changed (RFC 9110 §13). The first page
 * of many proves nothing about the others, so unless the source file says otherwise this is for
 * lists of one page.
 */
final class Unchanged
{
    private readonly string $fingerprint;

    private readonly string $when;

    private readonly ?Validator $known;

    /** @var array<string, string> */
    private array $seen = [];

    public function __construct(private readonly Run $run, EndpointDefinition $endpoint, SourceDefinition $source)
    {
        $this->when = $endpoint->endpoint['keep']['refresh']['unchanged'] ?? 'single-page';
        $this->fingerprint = SettingsFingerprint::ofTable($endpoint->endpoint, $source, $run->environment->slug);
        $this->known = $this->when === 'never' ? null : Validator::query()->where(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id, 'fingerprint' => $this->fingerprint])->first();
    }

    /**
     * @return array<string, string> of the first request
     */
    public function headers(): array
    {
        $isProof = $this->known !== null && ($this->known->pages === 1 || $this->when === 'first-page');

        return $isProof && KeptTable::query()->where('endpoint_id', $this->run->endpoint_id)->where('environment_id', $this->run->environment_id)->exists() ? $this->known->headers() : [];
    }

    public function since(): string
    {
        return $this->known?->created_at->format('Y-m-d H:i:s') ?? '';
    }

    /**
     * @param  array<string, string>  $headers  of the first answer
     */
    public function see(array $headers): void
    {
        $this->seen = $headers;
    }

    /**
     * After a run that read everything.
     */
    public function remember(): void
    {
        $where = ['endpoint_id' => $this->run->endpoint_id, 'environment_id' => $this->run->environment_id];
        Validator::query()->where($where)->delete();
        $etag = $this->seen['etag'] ?? '';
        $modified = $this->seen['last-modified'] ?? '';
        if ($this->when !== 'never' && strlen($etag) <= 500 && strlen($modified) <= 60 && $etag.$modified !== '') {
            Validator::query()->create($where + ['fingerprint' => $this->fingerprint, 'etag' => $etag ?: null, 'last_modified' => $modified ?: null, 'pages' => $this->run->pages]);
        }
    }
}
