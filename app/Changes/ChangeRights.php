<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\ChangeRight;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\User;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;
use Illuminate\Support\Collection;

/**
 * Who may change what. Nothing but this stands between a person and the service, whose secrets we hold, so every way
 * in asks here, and again right before a request leaves.
 */
final readonly class ChangeRights
{
    /**
     * @param  Collection<int, ChangeRight>  $rights
     */
    private function __construct(private Collection $rights)
    {
    }

    public static function of(User $person, Endpoint $endpoint, Environment $environment): self
    {
        return new self($person->isOff() ? new Collection : ChangeRight::query()->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->where(static fn ($either) => $either->where('user_id', $person->id)->orWhere('role', $person->role->value)->orWhereIn('people_group_id', $person->groups()->select('people_groups.id')))->get());
    }

    public function isNone(): bool
    {
        return $this->rights->isEmpty();
    }

    public function may(RecordAct $kind, ?string $column = null, ?string $action = null): bool
    {
        return $this->rights->contains(static fn (ChangeRight $right): bool => in_array($kind->value, $right->kinds ?? [$kind->value], true)
            && ($column === null || $kind !== RecordAct::Update && $kind !== RecordAct::Create || in_array($column, $right->columns ?? [$column], true))
            && ($action === null || in_array($action, $right->actions ?? [$action], true)));
    }

    /**
     * What of a change this person may not do, by column; "" for the whole of it.
     *
     * @return array<string, string>
     */
    public function against(RecordChange $change, ?string $action = null): array
    {
        if (! $this->may($change->kind, null, $action)) {
            return ['' => $change->kind === RecordAct::Call ? 'You may not call this.' : "You may not {$change->kind->value} records of this table here."];
        }
        $against = [];
        foreach (array_keys($change->after) as $column) {
            $this->may($change->kind, (string) $column) || $against[(string) $column] = 'You may not change this column.';
        }

        return $against;
    }
}
