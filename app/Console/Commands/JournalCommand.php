<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\JournalEntry;

/**
 * What was changed at services.
 */
final class JournalCommand extends SpringCommand
{
    protected $signature = 'spring:journal {table? : Only of this table} {record? : Only of this record, by its key} {--environment= : Environment} {--last=50 : How many, the latest last} {--json : A line of JSON each, with request and answer}';

    protected $description = 'Lists what was changed at services from here';

    public function work(): int
    {
        $query = JournalEntry::query()->latest('id')->limit(max(1, min(100_000, (int) $this->option('last'))));
        foreach (['table' => $this->argument('table'), 'record' => $this->argument('record'), 'environment' => $this->option('environment')] as $column => $value) {
            is_string($value) && $value !== '' && $query->where($column, $value);
        }
        foreach ($query->get()->reverse() as $one) {
            $changed = implode(', ', array_map(static fn (string $name, ?string $value): string => "$name ".(array_key_exists($name, $one->before_) ? ($one->before_[$name] ?? 'null').' -> ' : '').($value ?? 'null'), array_map(strval(...), array_keys($one->after_)), $one->after_));
            $this->giveLine($this->option('json') ? (string) json_encode($one->toArray(), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : implode("\t", [$one->at->toIso8601ZuluString(), $one->environment, $one->table, $one->record, $one->kind, $one->outcome, $one->person_name, mb_strimwidth((string) preg_replace('/\s+/u', ' ', $changed), 0, 200, '…')]));
        }

        return self::DONE;
    }
}
