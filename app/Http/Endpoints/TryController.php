<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Evidence\CurrentAnswer;
use App\Evidence\TryComparison;
use App\Evidence\TrySharing;
use App\Http\Controller;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\Source;
use App\Models\Tryout;
use App\View\EvidencePage;
use App\View\JsonTree;
use App\View\RawBody;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Response;
use Illuminate\Support\HtmlString;

/**
 * The evidence of tries: all of one, two side by side, the answer as a tree, as text and as a file.
 */
final class TryController extends Controller
{
    public function index(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $tries = Tryout::query()->with('exchanges')->where('endpoint_id', $endpoint->id)->latest('id')->paginate(25)->withQueryString();

        return view('tries.index', ['source' => $source, 'endpoint' => $endpoint, 'tries' => $tries, 'environmentNames' => Environment::query()->pluck('name', 'id')]);
    }

    public function show(Tryout $tryout, TrySharing $sharing): View
    {
        $source = $this->sourceOf($tryout);

        return view('tries.show', ['page' => new EvidencePage($sharing, $tryout, $source)]);
    }

    public function compare(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $find = fn (string $name): Tryout => Tryout::query()->where('endpoint_id', $endpoint->id)->findOrFail((int) $this->text($name));
        [$left, $right] = [$find('a'), $find('b')];

        return view('tries.compare', ['source' => $source, 'endpoint' => $endpoint, 'comparison' => TryComparison::of($left->id <= $right->id ? $left : $right, $left->id <= $right->id ? $right : $left), 'environmentNames' => Environment::query()->pluck('name', 'id')]);
    }

    /**
     * Nodes of an answer, as they are opened; or what can be done with one.
     */
    public function tree(Tryout $tryout, int $number): View|HtmlString
    {
        $source = $this->sourceOf($tryout);
        $endpoint = $tryout->endpoint_id === null ? null : Endpoint::query()->find($tryout->endpoint_id);

        return $this->nodes($source, $endpoint, CurrentAnswer::of($this->exchange($tryout, $number), null), route('tries.tree', [$tryout, $number]));
    }

    public function sample(Source $source, Endpoint $endpoint): View|HtmlString
    {
        $this->authorize('view', $source);
        $sample = $source->current()->endpoint($endpoint->slug)->endpoint['answer']['sample'] ?? null;

        return $this->nodes($source, $endpoint, CurrentAnswer::of(null, $sample), route('endpoints.sample.tree', [$source, $endpoint]));
    }

    /**
     * The raw body of one exchange, as text that no browser runs.
     */
    public function body(Tryout $tryout, int $number): Response
    {
        $this->sourceOf($tryout);

        return response($this->exchange($tryout, $number)->text() ?? 'The body of this answer is no longer kept.', 200, ['Content-Type' => 'text/plain; charset=utf-8']);
    }

    /**
     * The same, a part at a time, with a search.
     */
    public function raw(Tryout $tryout, int $number): View
    {
        $source = $this->sourceOf($tryout);
        $exchange = $this->exchange($tryout, $number);

        return view('tries.raw', ['source' => $source, 'try' => $tryout, 'exchange' => $exchange, 'raw' => new RawBody($exchange->text(), is_string(request('q')) ? request('q') : '', max(0, (int) $this->text('at')))]);
    }

    public function har(Tryout $tryout, TrySharing $sharing): Response
    {
        $source = $this->sourceOf($tryout);

        return response($sharing->har($tryout), 200, ['Content-Type' => 'application/json', 'Content-Disposition' => "attachment; filename=\"{$source->slug}-try-{$tryout->id}.har\""]);
    }

    private function nodes(Source $source, ?Endpoint $endpoint, CurrentAnswer $answer, string $url): View|HtmlString
    {
        $steps = json_decode(is_string(request('at')) ? request('at') : '[]', true, 512, JSON_BIGINT_AS_STRING);
        if (! is_array($steps) || count($steps) > 512 || array_filter($steps, static fn (mixed $step): bool => ! is_array($step) || count($step) !== 2 || ! (is_string($step[0] ?? null) || is_int($step[0] ?? null)) || ! is_int($step[1] ?? null)) !== []) {
            abort(404);
        }
        /** @var list<array{string|int, int}> $steps */
        if (request('acts') === '1') {
            return view('tries.acts', ['acts' => new NodeActs($answer->nodes(), $steps, $endpoint === null ? null : $source->current()->endpoint($endpoint->slug)), 'source' => $source, 'endpoint' => $endpoint, 'editable' => request()->header('HX-Current-URL') !== null && ! str_contains((string) request()->header('HX-Current-URL'), '/tries/')]);
        }

        return (new JsonTree($answer->nodes(), $url, null, null))->children($steps, max(0, (int) $this->text('from')));
    }

    private function exchange(Tryout $tryout, int $number): Exchange
    {
        return $tryout->exchanges()->where('number', $number)->firstOrFail();
    }

    private function sourceOf(Tryout $tryout): Source
    {
        $source = Source::query()->findOrFail($tryout->source_id);
        $this->authorize('view', $source);

        return $source;
    }
}
