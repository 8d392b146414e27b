<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\LogEntry;
use DeepSpring\Export\CsvWriter;

final class LogCommand extends SpringCommand
{
    protected $signature = 'spring:log {text? : Only entries with this in them} {--action= : Only this kind, like "signed in"} {--last=50 : How many} {--csv : All of them as CSV}';

    protected $description = 'Who did what';

    public function work(): int
    {
        $last = (string) $this->option('last');
        if (! ctype_digit($last)) {
            throw new WrongUse('--last takes a number.');
        }
        $text = (string) $this->argument('text');
        $like = '%'.addcslashes($text, '%_\\').'%';
        $entries = LogEntry::query()
            ->when(is_string($this->option('action')), fn ($query) => $query->where('action', $this->option('action')))
            ->when($text !== '', static fn ($query) => $query->whereRaw('concat_ws(" ", person_name, action, subject, detail, ip) collate utf8mb4_general_ci like ?', [$like]));
        if ($this->option('csv')) {
            $csv = new CsvWriter(true);
            $this->give($csv->line(['at', 'who', 'did', 'to', 'detail', 'from']));
            foreach ($entries->orderBy('id')->lazyById(1000) as $entry) {
                $this->give($csv->line([$entry->at->format('Y-m-d\TH:i:s.u\Z'), $entry->person_name, $entry->action, $entry->subject, $entry->detail, $entry->ip]));
            }

            return self::DONE;
        }
        foreach ($entries->latest('id')->limit((int) $last)->get()->reverse() as $entry) {
            $this->giveLine("{$entry->at->format('Y-m-d H:i:s')}  {$entry->person_name}  {$entry->action}  {$entry->subject}".($entry->detail === '' ? '' : "  ({$entry->detail})").($entry->ip === null ? '' : "  from {$entry->ip}"));
        }

        return self::DONE;
    }
}
