<?php

declare(strict_types=1);

namespace App\Environments;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use App\Reservoir\TableStore;
use Illuminate\Support\Str;

/**
 * Adds, renames and removes environments, for the screen and for the command line.
 */
final class Environments
{
    /** So that the name of the schema stays within what MariaDB allows. */
    private const LONGEST = 32;

    public function __construct(private readonly AuditLog $log, private readonly TableStore $tables)
    {
    }

    /**
     * @throws EnvironmentRefused
     */
    public function add(string $name): Environment
    {
        $this->refuseName($name, null);
        $slug = Str::slug($name);
        if ($slug === '' || strlen($slug) > self::LONGEST) {
            throw EnvironmentRefused::because('A name has letters or digits in it, and at most '.self::LONGEST.' of them.');
        }
        if (Environment::named($slug) !== null) {
            throw EnvironmentRefused::because("There is an environment \"$slug\" already.");
        }
        $environment = new Environment(['slug' => $slug, 'name' => $name, 'position' => (int) Environment::query()->max('position') + 1]);
        $this->tables->addEnvironment($environment);
        $environment->save();
        // Source files may have named it before it was there.
        Source::query()->update(['scheduled_version' => null]);
        $this->log->note(Action::EnvironmentChanged, $environment->slug, 'added');

        return $environment;
    }

    /**
     * @throws EnvironmentRefused
     */
    public function rename(Environment $environment, string $name): void
    {
        $this->refuseName($name, $environment);
        $this->log->note(Action::EnvironmentChanged, $environment->slug, "{$environment->name} → $name");
        $environment->fill(['name' => $name])->save();
    }

    /**
     * @throws EnvironmentRefused while something is in it
     */
    public function remove(Environment $environment): void
    {
        $kept = KeptTable::query()->where('environment_id', $environment->id)->orderBy('name')->pluck('name');
        $used = Source::described()->get()->filter(static fn (Source $source): bool => in_array($environment->slug, $source->current()->source()->environments(), true))->pluck('name');
        if ($kept->isNotEmpty()) {
            throw EnvironmentRefused::because("$environment->name still keeps {$kept->join(', ', ' and ')}.");
        }
        if ($used->isNotEmpty()) {
            throw EnvironmentRefused::because($used->join(', ', ' and ').' still '.($used->count() === 1 ? 'has' : 'have')." an address in $environment->name.");
        }
        if (Environment::query()->count() === 1) {
            throw EnvironmentRefused::because('One environment has to stay.');
        }
        $this->tables->dropEnvironment($environment);
        $environment->delete();
        $this->log->note(Action::EnvironmentChanged, $environment->slug, 'removed');
    }

    private function refuseName(string $name, ?Environment $self): void
    {
        if ($name === '' || mb_strlen($name) > 60) {
            throw EnvironmentRefused::because('An environment needs a name of at most 60 characters.');
        }
        if (Environment::query()->where('name', $name)->when($self !== null, static fn ($query) => $query->where('id', '<>', $self?->id))->exists()) {
            throw EnvironmentRefused::because("There is an environment \"$name\" already.");
        }
    }
}
