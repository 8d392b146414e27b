<?php

declare(strict_types=1);

namespace App\Http\Environments;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\AllowedHost;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Sources\FirstTake;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Gate;

/**
 * Allows what a try was refused for, which is exactly one host and port, and repeats it.
 */
final class AllowController extends Controller
{
    public function __invoke(Tryout $tryout, AuditLog $log, Tries $tries, FirstTake $take): Response
    {
        Gate::authorize('administer');
        $source = Source::query()->findOrFail($tryout->source_id);
        $this->authorize('update', $source);
        $blocked = ($tryout->diagnosis['code'] ?? '') === 'outbound' ? AllowedHost::parse((string) ($tryout->diagnosis['evidence'][0] ?? '')) : null;
        [$host, $port] = $blocked ?? abort(404);
        AllowedHost::query()->firstOrCreate(['host' => $host, 'port' => $port], ['note' => mb_substr("for $source->name", 0, 190), 'added_by' => $this->person()->id]);
        $log->note(Action::HostAllowed, "$host:$port", "for $source->slug");
        $environment = Environment::query()->findOrFail($tryout->environment_id);
        $row = $tryout->endpoint_id === null ? null : Endpoint::query()->with('source')->find($tryout->endpoint_id);
        $row = $row === null ? $this->source($source, $environment, $tries, $take) : $this->endpoint($row, $environment, $tries, $take);

        return response()->noContent()->header('HX-Redirect', $row === null ? route('sources.show', $source) : route('endpoints.show', [$source, $row]));
    }

    private function source(Source $source, Environment $environment, Tries $tries, FirstTake $take): ?Endpoint
    {
        if ($source->current()->endpoints() === []) {
            return $take->ofNew($source, $environment, $this->person());
        }
        $tries->source($source, $source->current(), $environment, $this->person());

        return null;
    }

    /**
     * What writes is not sent again by itself.
     */
    private function endpoint(Endpoint $row, Environment $environment, Tries $tries, FirstTake $take): Endpoint
    {
        $definition = $row->source->current()->endpoint($row->slug);
        if ($definition === null || $definition->does()->writes()) {
            return $row;
        }
        isset($definition->endpoint['flatten']) ? $tries->endpoint($row, $row->source->current(), $definition, $environment, $this->person()) : $take->of($row, $environment, $this->person());

        return $row;
    }
}
