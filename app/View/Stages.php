<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Exchange;
use App\Models\Tryout;
use App\Models\Upload;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * A test, stage by stage: found, allowed, connected, secured, answered, known, as promised. The first that
 * failed ends the row.
 */
final class Stages
{
    /** @var list<array{name: string, state: string, ms: float|null, note: string}> state: ok, bad, no */
    public readonly array $all;

    public function __construct(Tryout $try, ?Exchange $exchange, bool $hasAccess)
    {
        $t = $exchange->timing ?? [];
        $code = (string) ($try->diagnosis['code'] ?? '');
        $where = $try->diagnosis['where'] ?? null;
        $answered = $exchange?->status !== null;
        $ms = static fn (string $key): ?float => isset($t[$key]) ? (float) $t[$key] : null;
        $failedAt = match (true) {
            $try->succeeded => null,
            str_starts_with($code, 'dns') => 'found',
            $code === 'outbound' && ! $answered => 'allowed',
            in_array($code, ['refused', 'connect-timeout'], true) => 'connected',
            str_starts_with($code, 'tls'), $code === 'plain-on-tls' => 'secured',
            ! $answered && $exchange !== null => 'answered',
            $where === 'access', $exchange === null => 'known',
            $where === 'address' => 'answered',
            default => 'promised',
        };
        $certificate = is_array($t['certificate'] ?? null) ? $t['certificate'] : null;
        $days = $certificate === null ? null : (int) floor(((int) $certificate['until'] - Carbon::now()->getTimestamp()) / 86400);
        $stages = [
            ['found', 'name found', $ms('name'), (string) ($t['address'] ?? '')],
            ['allowed', 'may go there', null, ''],
            ['connected', 'connected', $ms('connect'), ''],
            ['secured', 'TLS', $ms('tls'), $certificate === null ? '' : "{$certificate['issuer']}, ".Phrase::count((int) $days, 'day').' left'],
            ['answered', 'answers', $ms('firstByte'), $answered ? "{$exchange->status}" : ''],
            ['known', $hasAccess ? 'authenticated' : 'no authentication', null, ''],
            ['promised', 'expected response', null, $try->succeeded && $try->records > 0 ? Show::count($try->records, 'record') : ''],
        ];
        if (preg_match('/^host: '.preg_quote(Upload::HOST, '/').'\s*$/im', (string) $exchange?->request) === 1) {
            // No name was looked up and nothing connected: the file is kept here.
            $stages = [['answered', 'file found', null, $answered ? "{$exchange->status}" : ''], $stages[6]];
        }
        if ($failedAt !== 'allowed') {
            $stages = array_values(array_filter($stages, static fn (array $one): bool => $one[0] !== 'allowed'));
        }
        if ($certificate === null && $failedAt !== 'secured' && ($ms('tls') ?? 0.0) === 0.0) {
            $stages = array_values(array_filter($stages, static fn (array $one): bool => $one[0] !== 'secured'));
        }
        $all = [];
        $state = 'ok';
        foreach ($stages as [$key, $name, $took, $note]) {
            $state = $key === $failedAt ? 'bad' : ($state === 'bad' || $state === 'no' ? 'no' : 'ok');
            $all[] = ['name' => $name, 'state' => $exchange === null && $state === 'ok' ? 'no' : $state, 'ms' => $state === 'no' ? null : $took, 'note' => $state === 'no' ? '' : $note];
        }
        $this->all = $all;
    }
}
