<?php

declare(strict_types=1);

namespace App\View;

use App\Evidence\CurrentAnswer;
use App\Evidence\TrySharing;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use DeepSpring\SourceFile\EndpointDefinition;
use Illuminate\Support\HtmlString;

/**
 * Everything that is known of one try.
 */
final readonly class EvidencePage
{
    public ?Endpoint $endpoint;

    public ?EndpointDefinition $definition;

    public Environment $environment;

    public ?User $who;

    public ?Tryout $before;

    public function __construct(private TrySharing $sharing, public Tryout $try, public Source $source)
    {
        $this->endpoint = $try->endpoint_id === null ? null : Endpoint::query()->find($try->endpoint_id);
        $this->definition = $this->endpoint === null ? null : $source->current()->endpoint($this->endpoint->slug);
        $this->environment = Environment::query()->findOrFail($try->environment_id);
        $this->who = $try->user_id === null ? null : User::query()->find($try->user_id);
        $this->before = $try->endpoint_id === null ? null : Tryout::query()->where('endpoint_id', $try->endpoint_id)->where('environment_id', $try->environment_id)->where('id', '<', $try->id)->latest('id')->first();
    }

    public function tree(Exchange $exchange): ?HtmlString
    {
        $answer = CurrentAnswer::of($exchange, null);
        $records = (string) ($this->definition->endpoint['answer']['records'] ?? '');

        return $answer->isThere ? (new JsonTree($answer->nodes(), route('tries.tree', [$this->try, $exchange->number]), str_ends_with($records, '[*]') ? substr($records, 0, -3) : null))->html($answer->root()) : null;
    }

    /**
     * The records as a table of their plain members, where records are chosen.
     *
     * @return array{list<string>, list<list<mixed>>}|null names, and the first rows
     */
    public function table(Exchange $exchange): ?array
    {
        $answer = CurrentAnswer::of($exchange, null);
        if (! $answer->isThere || $this->definition === null || $exchange->status === null || ! in_array($exchange->status, $this->definition->answer()->ok, true)) {
            return null;
        }
        $records = array_slice($this->definition->answer()->records($answer->document), 0, 50);
        $names = [];
        foreach ($records as $record) {
            foreach ($record instanceof \stdClass ? get_object_vars($record) : (is_array($record) ? $record : ['value' => $record]) as $name => $value) {
                $names[(string) $name] = true;
            }
        }
        $names = array_map(strval(...), array_slice(array_keys($names), 0, 60));
        $rows = array_map(static fn (mixed $record): array => array_map(static fn (string $name): mixed => $record instanceof \stdClass ? $record->{$name} ?? null : (is_array($record) ? $record[$name] ?? null : $record), $names), $records);

        return $rows === [] ? null : [$names, $rows];
    }

    public function curl(Exchange $exchange): string
    {
        return $this->sharing->curl($exchange);
    }

    /**
     * The phases as bars in time.
     *
     * @return list<array{name: string, ms: float, x: float, width: float}> x and width in per cent
     */
    public static function phases(Exchange $exchange): array
    {
        $t = $exchange->timing;
        $ms = static fn (string $name): float => (float) ($t[$name] ?? 0);
        $total = max($ms('total'), 0.1);
        $phases = ['name lookup' => $ms('name'), 'connecting' => $ms('connect'), 'TLS' => $ms('tls'), 'first byte' => $ms('firstByte')];
        $phases['transfer'] = max(0.0, $total - array_sum($phases));
        $x = 0.0;
        $bars = [];
        foreach ($phases as $name => $one) {
            if ($name === 'TLS' && $one === 0.0) {
                continue;
            }
            $bars[] = ['name' => $name, 'ms' => $one, 'x' => round(100 * $x / $total, 2), 'width' => round(max(0.4, 100 * $one / $total), 2)];
            $x += $one;
        }

        return $bars;
    }
}
