<?php

declare(strict_types=1);

namespace App\Http\Environments;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\AllowedHost;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Facades\Gate;
use Illuminate\Validation\ValidationException;

/**
 * Where requests may go although the address is not open to everybody. For administrators.
 */
final class OutboundController extends Controller
{
    public function index(): View
    {
        Gate::authorize('administer');

        return view('outbound', ['hosts' => AllowedHost::query()->with('by')->orderBy('host')->orderBy('port')->get(), 'ports' => config('spring.outbound.ports'), 'asked' => $this->text('host')]);
    }

    public function store(AuditLog $log): RedirectResponse
    {
        Gate::authorize('administer');
        [$host, $port] = AllowedHost::parse($this->text('host')) ?? throw ValidationException::withMessages(['host' => 'A host and a port, like lab.saltmarsh.example:8443 or 10.1.2.3:8080.']);
        AllowedHost::query()->firstOrCreate(['host' => $host, 'port' => $port], ['note' => mb_substr($this->text('note'), 0, 190) ?: null, 'added_by' => $this->person()->id]);

        $log->note(Action::HostAllowed, "$host:$port", $this->text('note'));

        return redirect()->route('outbound.index');
    }

    public function destroy(AllowedHost $host, AuditLog $log): RedirectResponse
    {
        Gate::authorize('administer');
        $host->delete();
        $log->note(Action::HostRefused, "$host->host:$host->port");

        return redirect()->route('outbound.index');
    }
}
