<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Tryout;
use Illuminate\Support\Carbon;

/**
 * How a source fares in one environment.
 */
final readonly class SourceState
{
    public function __construct(public Tryout $last, public ?Carbon $provenAt, public ?Carbon $failingSince)
    {
    }

    /**
     * In a few words, like "proven 14 s ago" or "refused since Tuesday 06:10".
     */
    public function words(): string
    {
        if ($this->failingSince === null) {
            return 'proven '.Show::ago($this->provenAt);
        }
        $word = match ($this->last->diagnosis['where'] ?? '') {
            'access' => ($this->last->diagnosis['code'] ?? '') === 'consent' ? 'waits for consent' : 'refused',
            'address' => 'not reached',
            default => 'fails',
        };

        return $word === 'waits for consent' ? $word : $word.' since '.$this->moment($this->failingSince);
    }

    private function moment(Carbon $since): string
    {
        return match (true) {
            Show::day($since) === Show::day(Carbon::now()) => substr(Show::clock($since), 0, 5),
            $since->greaterThan(Carbon::now()->subDays(6)) => Show::weekday($since),
            default => Show::day($since),
        };
    }
}
