<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Pipeline\FetchObserver;
use App\Pipeline\SourceConnection;
use App\Pipeline\Tally;
use App\Transport\Sent;
use DeepSpring\Access\SecretMask;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * What a try gathers until it is kept.
 */
final class Attempt implements FetchObserver
{
    /** @var list<array{Sent, int, int|null, string}> exchange, page, records, purpose */
    public array $sent = [];

    public ?Diagnosis $diagnosis = null;

    /** @var list<Diagnosis> */
    public array $notes = [];

    public ?string $ended = null;

    public readonly Tally $tally;

    /** What it waits for before it may send. */
    public ?string $waited = null;

    private ?SourceConnection $reading = null;

    private readonly float $begun;

    /**
     * @param  array<string, mixed>  $definition  of the endpoint
     */
    public function __construct(
        private readonly Source $source,
        public readonly ?Endpoint $endpoint,
        public readonly array $definition,
        private readonly SourceDefinition $settings,
        public readonly Environment $environment,
        private readonly ?User $by,
        private readonly ?\Closure $stopped = null,
    ) {
        $this->begun = microtime(true);
        $this->tally = new Tally;
    }

    public function watch(SourceConnection $reading): void
    {
        $this->reading = $reading;
        $reading->recordTokens(function (Sent $sent): void {
            $this->sent[] = [$sent, 0, null, EvidenceWriter::TOKEN];
        });
    }

    public function answered(Sent $sent, int $page, ?int $records): void
    {
        $this->sent[] = [$sent, $page, $records, $page === 0 ? EvidenceWriter::REFUSED : EvidenceWriter::REQUEST];
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
    }

    public function waits(?string $for, float $until): void
    {
        $this->waited = $for;
    }

    public function goesOn(): bool
    {
        // A request under way is ended by its own stop, which says where it was.
        return $this->waited === null || $this->stopped === null || ! ($this->stopped)();
    }

    /**
     * The first answer to the request itself.
     */
    public function first(): ?Sent
    {
        foreach ($this->sent as [$sent, , , $purpose]) {
            if ($purpose === EvidenceWriter::REQUEST) {
                return $sent;
            }
        }

        return null;
    }

    /**
     * Of everything that was secret until the end, so that nothing sent before is spared.
     */
    public function mask(): SecretMask
    {
        return $this->reading?->mask() ?? new SecretMask([]);
    }

    /**
     * @return array<string, mixed> for the table of tries
     */
    public function row(): array
    {
        return [
            'source_id' => $this->source->id, 'endpoint_id' => $this->endpoint?->id, 'environment_id' => $this->environment->id, 'user_id' => $this->by?->id,
            'succeeded' => $this->diagnosis === null, 'milliseconds' => (int) round(1000 * (microtime(true) - $this->begun)), 'records' => $this->tally->records,
            'ended' => $this->ended === null ? null : mb_substr($this->ended, 0, 500), 'diagnosis' => $this->diagnosis?->toArray(),
            'notes' => $this->notes === [] ? null : array_map(static fn (Diagnosis $note): array => $note->toArray(), $this->notes),
            'strata' => SettingsFingerprint::hashes($this->definition, $this->settings->base($this->environment->slug) ?? '') + ['source' => $this->settings->fingerprint($this->environment->slug)],
        ];
    }
}
