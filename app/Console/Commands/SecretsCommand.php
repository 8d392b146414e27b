<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Secret;
use App\Secrets\Origins;
use App\Secrets\Vault;
use DeepSpring\Access\Origin;

final class SecretsCommand extends SpringCommand
{
    protected $signature = 'spring:secrets {source : Short name of the source} {--environment= : Environment} {--secret=* : name=value, to give one} {--secrets= : File with lines of name=value} {--confirm : Let those that are there travel to where the source leads now}';

    protected $description = 'Lists the secrets of a source by name, gives them, confirms a changed address';

    public function work(Vault $vault): int
    {
        $source = $this->source((string) $this->argument('source'));
        $environment = $this->environmentOf($source);
        $this->takeSecrets($source, $environment, $vault);
        $now = Origins::ofSource($source, $environment);
        $secrets = Secret::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id])->orderBy('name')->get();
        if ($secrets->isEmpty()) {
            $this->say("{$source->slug} has no secrets in {$environment->name}.");
        }
        foreach ($secrets as $secret) {
            if ($this->option('confirm')) {
                $vault->confirm($secret);
                $secret->refresh();
            }
            $away = array_diff($now, $secret->origins ?? []);
            $shown = implode(' ', array_map(Origin::shown(...), $secret->origins ?? []));
            $this->giveLine(sprintf('%-24s %s%s', $secret->name, $shown === '' ? 'given for no address' : "given for $shown", $away === [] ? '' : '; not sent to '.implode(' ', array_map(Origin::shown(...), $away))));
        }

        return self::DONE;
    }
}
