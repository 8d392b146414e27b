<?php

declare(strict_types=1);

namespace App\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\PeopleGroup;
use App\Models\User;

/**
 * Groups of people, who is in them, and who comes and goes.
 */
final readonly class Groups
{
    private const LONGEST = 100;

    public function __construct(private AuditLog $log)
    {
    }

    /**
     * @throws PersonRefused
     */
    public function make(string $name): PeopleGroup
    {
        $name = $this->free($name, null);
        $group = PeopleGroup::query()->create(['name' => $name]);
        $this->log->note(Action::GroupMade, $name);

        return $group;
    }

    /**
     * @throws PersonRefused
     */
    public function rename(PeopleGroup $group, string $name): void
    {
        $was = $group->name;
        $group->update(['name' => $this->free($name, $group)]);
        $was === $group->name || $this->log->note(Action::GroupRenamed, $group->name, "was $was");
    }

    /**
     * The rights that it was given go with it.
     */
    public function delete(PeopleGroup $group): void
    {
        $members = $group->members()->count();
        $group->delete();
        $this->log->note(Action::GroupDeleted, $group->name, "$members in it");
    }

    /**
     * @throws PersonRefused
     */
    public function add(PeopleGroup $group, User $person): void
    {
        $person->isOff() && throw PersonRefused::because("$person->name is switched off. Switch them on first.");
        $changed = $group->members()->syncWithoutDetaching([$person->id]);
        $changed['attached'] === [] || $this->log->note(Action::GroupJoined, $person->email, $group->name);
    }

    public function remove(PeopleGroup $group, User $person): void
    {
        $group->members()->detach($person->id) === 0 || $this->log->note(Action::GroupLeft, $person->email, $group->name);
    }

    public function find(string $name): ?PeopleGroup
    {
        return PeopleGroup::query()->whereRaw('name collate utf8mb4_general_ci = ?', [trim($name)])->first();
    }

    /**
     * @throws PersonRefused where the name is empty, too long, or another's
     */
    private function free(string $name, ?PeopleGroup $but): string
    {
        $name = trim((string) preg_replace('/\s+/u', ' ', $name));
        if ($name === '' || mb_strlen($name) > self::LONGEST) {
            throw PersonRefused::because($name === '' ? 'Give the group a name.' : 'A name has at most '.self::LONGEST.' characters.');
        }
        $other = $this->find($name);

        return $other === null || $other->id === $but?->id ? $name : throw PersonRefused::because("There is a group \"$other->name\" already.");
    }
}
