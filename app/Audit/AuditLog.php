<?php

declare(strict_types=1);

namespace App\Audit;

use App\Models\LogEntry;
use App\Models\User;
use Illuminate\Contracts\Foundation\Application;

/**
 * Who did what: added to, never changed. It holds names and addresses, and nothing secret.
 */
final readonly class AuditLog
{
    public function __construct(private Application $app)
    {
    }

    /**
     * @param  User|null  $by  whoever is signed in, when null; the command line where nobody is
     * @param  string  $subject  what it was done to
     */
    public function note(Action $action, string $subject, string $detail = '', ?User $by = null): void
    {
        $request = $this->app->runningInConsole() && ! $this->app->runningUnitTests() ? null : $this->app->make('request');
        $by ??= $request?->user();
        LogEntry::query()->insert([
            'at' => now()->format('Y-m-d H:i:s.u'),
            'person' => $by?->id, 'person_name' => mb_substr($by->name ?? ($request === null ? 'command line' : 'nobody'), 0, 190),
            'action' => $action->value, 'subject' => mb_substr(mb_scrub($subject), 0, 300), 'detail' => mb_substr(mb_scrub($detail), 0, 2000),
            'ip' => $request?->ip(),
        ]);
    }
}
