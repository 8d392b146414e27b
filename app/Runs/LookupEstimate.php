<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Tryout;
use App\Pipeline\LookupPages;
use App\Pipeline\LookupSettings;
use App\Reservoir\TableRows;
use DeepSpring\Pace\Settings;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\Phrase;
use Illuminate\Database\Eloquent\Collection;

/**
 * What all rows of a lookup would take.
 */
final readonly class LookupEstimate
{
    /** Rows up to which it is counted how many answers are known. */
    private const COUNTED = 20_000;

    /** Tries by which it is reckoned how long an answer takes. */
    private const TIMED = 20;

    /**
     * @param  int  $rows  of the table
     * @param  int  $different  requests
     * @param  int  $without  rows that have nothing to ask with
     * @param  int|null  $known  different requests whose answers are known; null where there are too many rows to count them
     * @param  float|null  $seconds  for what is not known; null where no answer came yet to reckon by
     * @param  int|null  $each  milliseconds of an answer
     */
    private function __construct(public int $rows, public int $different, public int $without, public ?int $known, public ?float $seconds, public ?int $each, private Settings $pace)
    {
    }

    /**
     * @throws \App\Reservoir\KeepFailed
     */
    public static function of(TableRows $store, LookupSettings $settings, Endpoint $endpoint, EndpointDefinition $definition, Settings $pace, Environment $environment): self
    {
        $rows = LookupRows::of($store, $settings, $environment);
        [$different, $asked] = $rows->different();
        $known = $rows->table->rows > self::COUNTED ? null : self::known($rows, $settings, $endpoint, $definition, $environment);
        $tries = Tryout::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $environment->id)->latest('id')->limit(self::TIMED)->pluck('id');
        $exchanges = Exchange::query()->whereIn('try_id', $tries)->whereNotNull('records')->get();
        $each = self::average($exchanges);
        $left = $different - ($known ?? 0);
        $seconds = $each === null ? null : max($left * $each / 1000 / $pace->atOnce, $pace->perMinute === null ? 0.0 : 60 * $left / $pace->perMinute);

        return new self($rows->table->rows, $different, max(0, $rows->table->rows - $asked), $known, $seconds, $each, $pace);
    }

    /**
     * @param  Collection<int, Exchange>  $exchanges
     * @return int|null milliseconds
     */
    private static function average(Collection $exchanges): ?int
    {
        $total = 0.0;
        foreach ($exchanges as $one) {
            $total += (float) ($one->timing['total'] ?? 0);
        }

        return $exchanges->isEmpty() ? null : (int) round($total / $exchanges->count());
    }

    private static function known(LookupRows $rows, LookupSettings $settings, Endpoint $endpoint, EndpointDefinition $definition, Environment $environment): int
    {
        if ($settings->answers === null) {
            return 0;
        }
        $same = LookupPages::sameness($definition);
        $marks = [];
        foreach ($rows->read() as [$bound]) {
            $values = $settings->rows->values($bound);
            if ($values !== null) {
                $marks[LookupPages::mark($same, $values + $settings->constants)] = true;
            }
        }

        return LookupReading::answers($endpoint->source, $environment, $settings, now()->sub($settings->answers)->toDateTimeImmutable())->count(array_map(strval(...), array_keys($marks)));
    }

    /**
     * "860 rows, 512 different requests; 30 are known already. The others take about 7 s, at 8 at once and 80 ms each."
     */
    public function words(): string
    {
        $left = $this->different - ($this->known ?? 0);

        return Phrase::count($this->rows, 'row').', '.Phrase::count($this->different, 'different request')
            .($this->without > 0 ? '; '.Phrase::count($this->without, 'row has', 'rows have').' nothing to ask with' : '')
            .(($this->known ?? 0) > 0 ? '; '.Phrase::number($this->known ?? 0).' answers are known already' : '').'. '
            .($this->seconds === null ? 'How long they take is said once some rows were tried.' : ($left === 0 ? 'Nothing has to be sent.' : Phrase::count($left, 'request takes', 'requests take').' about '.Phrase::duration(1000 * max(1, $this->seconds)).", at {$this->pace->atOnce} at once and {$this->each} ms each".($this->pace->perMinute === null ? '' : ", at most {$this->pace->perMinute} a minute").'.'));
    }
}
