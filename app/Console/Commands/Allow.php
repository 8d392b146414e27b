<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\AllowedHost;

final class Allow extends SpringCommand
{
    protected $signature = 'spring:allow {host? : HOST:PORT; without it, what is allowed is listed} {--note= : Why} {--remove : Take the permission back}';

    protected $description = 'Lets requests go to a private host and port';

    public function work(AuditLog $log): int
    {
        $text = $this->argument('host');
        if (! is_string($text)) {
            foreach (AllowedHost::query()->orderBy('host')->orderBy('port')->get() as $one) {
                $this->give("$one->host:$one->port".($one->note === null ? '' : "\t$one->note")."\n");
            }

            return self::DONE;
        }
        [$host, $port] = AllowedHost::parse($text) ?? throw new WrongUse("\"$text\" is not a host and a port, like lab.saltmarsh.example:8443.");
        if ($this->option('remove')) {
            $gone = AllowedHost::query()->where(['host' => $host, 'port' => $port])->delete();
            $gone > 0 && $log->note(Action::HostRefused, "$host:$port");
            $this->say($gone > 0 ? "Requests may no longer go to $host:$port." : "$host:$port was not allowed.");

            return $gone > 0 ? self::DONE : self::REFUSED;
        }
        $note = $this->option('note');
        AllowedHost::query()->firstOrCreate(['host' => $host, 'port' => $port], ['note' => is_string($note) ? mb_substr($note, 0, 190) : null]);
        $log->note(Action::HostAllowed, "$host:$port", is_string($note) ? $note : '');
        $this->say("Requests may go to $host:$port.");

        return self::DONE;
    }
}
