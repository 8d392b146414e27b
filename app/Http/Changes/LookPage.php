<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Changes\DoubtfulCells;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnection;
use App\Pipeline\SourceConnections;
use App\Reservoir\TableReader;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Illuminate\Pagination\LengthAwarePaginator;

/**
 * What would be sent, change by change, before anything is.
 */
final class LookPage
{
    public const SIZE = 20;

    /** In place of what only the look right before shows. */
    private const STATE = 'the ETag that the look before finds';

    /** @var LengthAwarePaginator<int, Change> */
    public readonly LengthAwarePaginator $changes;

    /** @var array<string, int> by state */
    public readonly array $counts;

    private ?SourceConnection $connection = null;

    public ?string $trouble = null;

    private readonly DoubtfulCells $doubtful;

    public function __construct(private readonly ChangeGrid $grid, public readonly ChangeSet $set, SourceConnections $connections, TableReader $reader)
    {
        $this->doubtful = new DoubtfulCells($grid->table, $reader);
        $this->counts = $set->counts();
        // What needs somebody stands first, then what is pending, then what is done.
        $this->changes = $set->changes()->orderByRaw("field(state, 'conflict', 'unknown', 'refused', 'sending', 'pending', 'done')")->orderBy('number')->paginate(self::SIZE, pageName: 'look');
        try {
            $this->connection = $connections->open($grid->table->table->endpoint->source, $grid->table->file->source(), $grid->table->table->environment, $set->user);
        } catch (ReadingFailed $failed) {
            $this->trouble = $failed->diagnosis->what;
        }
    }

    /**
     * @return array<string, string>
     */
    public function faults(Change $change): array
    {
        return $change->state === ChangeState::Pending || $change->state === ChangeState::Refused ? $this->grid->faults($change) : [];
    }

    /**
     * What is said of a cell, and keeps nothing from being sent.
     *
     * @return array<string, string> by column
     */
    public function doubts(Change $change): array
    {
        return $change->state === ChangeState::Pending || $change->state === ChangeState::Refused ? $this->doubtful->of($change) : [];
    }

    /**
     * The request exactly as it would leave, secrets masked.
     */
    public function request(Change $change): string
    {
        $plan = $this->grid->table->plan;
        $asked = $plan->asked($change->wanted());
        $isLookedAt = $plan->get() !== null && $asked->bound->state() !== null;
        try {
            return $this->connection?->preview($asked->bound->endpoint, $asked->values, new PageRequest(headers: $isLookedAt ? ['if-match' => self::STATE] : [])) ?? (string) $this->trouble;
        } catch (ReadingFailed $failed) {
            return $failed->diagnosis->what;
        }
    }

    /**
     * What happens before and after the request itself.
     */
    public function besides(Change $change): string
    {
        $plan = $this->grid->table->plan;
        $with = $plan->batch() !== null || $plan->together($change->kind) !== null ? ' It travels with others in one request, where there are others.' : '';
        if ($change->kind === RecordAct::Create || $change->kind === RecordAct::Call) {
            return ($plan->endpoint($change->kind, $change->action)?->isRepeatable() === true ? 'May be sent again where no answer comes: the service knows it by its key.' : 'Sent once: where no answer comes, nobody sends it again by itself.').$with;
        }

        return match (true) {
            $plan->get() === null => 'The record is not looked at before: nothing gets one, so what somebody else changed is overwritten.',
            $plan->together($change->kind) !== null => 'The record is looked at first; it is sent only if it is still as you saw it.',
            default => 'The record is looked at first; it is sent only if it is still as you saw it, with its ETag where there is one.',
        }.$with;
    }

    /**
     * Requests that would leave, at most.
     */
    public function requests(): int
    {
        $plan = $this->grid->table->plan;
        $looks = $plan->get() === null ? 0 : $this->set->changes()->where('state', ChangeState::Pending)->whereIn('kind', [RecordAct::Update, RecordAct::Delete])->count();

        return $looks + ($this->counts['pending'] ?? 0);
    }
}
