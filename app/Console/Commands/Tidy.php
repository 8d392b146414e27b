<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\AnswerPart;
use App\Models\Exchange;
use App\Models\PendingImport;
use App\Models\QueryRun;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Runs\Runs;
use Illuminate\Console\Command;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

/**
 * What needs no hand: runs whose process died are closed, old history is thinned.
 */
final class Tidy extends Command
{
    private const DAYS = 30;

    protected $signature = 'spring:tidy';

    protected $description = 'Closes runs whose process died and thins old history';

    public function handle(Runs $runs): int
    {
        $runs->rescue();
        $before = Carbon::now()->subDays(self::DAYS);
        $old = Run::query()->where('created_at', '<', $before)->whereIn('state', [RunState::Done, RunState::Failed, RunState::Stopped])
            ->whereNotIn('id', Run::query()->selectRaw('max(id)')->groupBy('endpoint_id', 'environment_id'))->limit(500)->pluck('id');
        RejectedValue::query()->whereIn('run_id', $old)->delete();
        Run::query()->whereIn('id', $old)->delete();
        // Bodies of old tries are what takes the room; that they were, and what came of them, stays.
        $bodies = Exchange::query()->where('created_at', '<', $before)->where(static fn (Builder $any) => $any->whereNotNull('body')->orWhereNotNull('digest'))->limit(2000)->pluck('id');
        AnswerPart::query()->whereIn('exchange_id', $bodies)->delete();
        Exchange::query()->whereIn('id', $bodies)->update(['body' => null, 'digest' => null]);
        PendingImport::query()->where('created_at', '<', Carbon::now()->subDay())->delete();
        QueryRun::query()->where('created_at', '<', $before)->limit(5000)->delete();

        return self::SUCCESS;
    }
}
