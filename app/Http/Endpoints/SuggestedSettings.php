<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Models\Endpoint;
use App\Runs\TableNames;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Suggest\Suggestion;

/**
 * Settings of an endpoint that nobody made, each as long as it stands as it was suggested, and what a person
 * was asked.
 */
final readonly class SuggestedSettings
{
    /**
     * @param  array<string, mixed>  $endpoint  as it is now
     */
    public function __construct(private Endpoint $row, private SourceFile $file, private array $endpoint)
    {
    }

    /**
     * What nobody set, in a stratum.
     *
     * @return list<Suggestion>
     */
    public function made(string $stratum): array
    {
        return array_values(array_filter(array_map(Suggestion::of(...), $this->row->suggestions['made'] ?? []), fn (Suggestion $one): bool => $one->stratum() === $stratum && $one->stands($this->endpoint)));
    }

    /**
     * What a person was asked there, as long as nothing is set.
     *
     * @return list<string>
     */
    public function questions(string $stratum): array
    {
        $isSet = match ($stratum) {
            'answer' => isset($this->endpoint['answer']['records']) || isset($this->endpoint['answer']['rows']) || isset($this->endpoint['flatten']),
            'onward' => ($this->endpoint['onward']['style'] ?? 'none') !== 'none',
            default => isset($this->endpoint['flatten']),
        };

        return $isSet ? [] : array_column(array_filter($this->row->suggestions['questions'] ?? [], static fn (array $one): bool => $one['stratum'] === $stratum), 'text');
    }

    /**
     * @return list<Suggestion> of all strata
     */
    public function all(): array
    {
        return array_merge(...array_map($this->made(...), array_values(array_unique(Suggestion::PLACES))));
    }

    /**
     * @return array<string, string> the first question of each stratum
     */
    public function firstQuestions(): array
    {
        $all = [];
        foreach (['answer', 'onward', 'flatten'] as $stratum) {
            $first = $this->questions($stratum)[0] ?? null;
            $all += $first === null ? [] : [$stratum => $first];
        }

        return $all;
    }

    /**
     * Names of its tables that are taken, and by whom.
     *
     * @return array<string, array{holder: string, free: string}>
     */
    public function takenNames(): array
    {
        return isset($this->endpoint['flatten']) ? (new TableNames($this->row, $this->file))->conflicts($this->endpoint['flatten']) : [];
    }
}
