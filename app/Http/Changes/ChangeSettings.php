<?php

declare(strict_types=1);

namespace App\Http\Changes;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Change\BoundEndpoint;
use DeepSpring\Change\ChangeProposal;
use DeepSpring\Change\SetEndpoints;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * How records of an endpoint are changed, as a form shows it and gives it back.
 */
final readonly class ChangeSettings
{
    public const ROLES = ['get' => 'Get one', 'create' => 'Create', 'update' => 'Change', 'delete' => 'Delete'];

    public ChangeProposal $proposal;

    /** @var list<array<string, mixed>> endpoints of the same entity set that the service has and the source file has not */
    public array $missing;

    /** @var array<string, mixed> `change` of the source file */
    public array $settings;

    public function __construct(private SourceFile $file, private EndpointDefinition $list, ?Model $model = null)
    {
        $document = $file->document;
        $there = count($document['endpoints']);
        array_push($document['endpoints'], ...($model === null ? [] : SetEndpoints::missing($document, $list->endpoint, $model)));
        $document = Chosen::filled($document, $file->document, $model);
        $this->missing = array_slice($document['endpoints'], $there);
        $this->proposal = ChangeProposal::of(SourceFile::trusted($document), $list);
        $this->settings = $list->endpoint['change'] ?? [];
    }

    /**
     * What says how changes travel together.
     *
     * @param  array<string, mixed>  $given
     * @param  \Closure(mixed, string): ?array<string, mixed>  $bind
     * @return array<string, mixed>
     */
    private function travels(array $given, \Closure $bind): array
    {
        $travels = [];
        foreach (is_array($given['together'] ?? null) ? $given['together'] : [] as $role => $one) {
            $bound = in_array($role, ['create', 'update', 'delete'], true) ? $bind($one, "together.$role") : null;
            $most = is_array($one) && is_string($one['most'] ?? null) ? (int) $one['most'] : 0;
            $bound === null || $travels['together'][$role] = $bound + ($most > 0 ? ['most' => $most] : []);
        }
        if (($given['batch'] ?? '') === '1') {
            $most = is_string($given['batch_most'] ?? null) ? (int) $given['batch_most'] : 0;
            $travels['batch'] = array_filter(['most' => $most, 'as_one' => ($given['batch_as_one'] ?? '') === '1']) ?: ['most' => 50];
        }

        return $travels;
    }

    public function isOData(): bool
    {
        return Chosen::isOData($this->file->document);
    }

    /**
     * @return array<string, string> endpoints that take several records and do that to them, slug → name
     */
    public function forSeveral(string $role): array
    {
        return array_filter($this->endpoints($role), fn (string $slug): bool => ($this->file->endpoint($slug)?->endpoint['ask']['body']['each'] ?? null) !== null, ARRAY_FILTER_USE_KEY);
    }

    /**
     * @return array<string, string> endpoints that could do that, slug → name
     */
    public function endpoints(string $role): array
    {
        $found = [];
        foreach ($this->file->endpoints() as $one) {
            $does = $one->does();
            if (isset($this->list->endpoint['entity_set'], $one->endpoint['entity_set']) && $one->endpoint['entity_set'] !== $this->list->endpoint['entity_set']) {
                // It is about records of another set.
                continue;
            }
            if ($one->slug !== $this->list->slug && ($role === 'actions' ? $does->writes() : $does === EndpointRole::from($role))) {
                $found[$one->slug] = $one->name;
            }
        }

        return $found;
    }

    /**
     * @param  array<string, mixed>  $binding
     * @return list<array{name: string, about: string, column: string, required: bool}> inputs of what is bound, with the column that fills each
     */
    public function inputs(string $slug, array $binding): array
    {
        $endpoint = $this->file->endpoint($slug);
        if ($endpoint === null) {
            return [];
        }
        $bound = new BoundEndpoint($endpoint, [], '');
        $found = [];
        foreach ($bound->inputs() as $input) {
            if ($input->fixed === null && ! BoundEndpoint::fillsItself($input)) {
                $found[] = ['name' => $input->name, 'about' => "{$input->in->value}, {$input->type->value}", 'column' => (string) ($binding['inputs'][$input->name] ?? ''), 'required' => $input->required];
            }
        }

        return $found;
    }

    /**
     * @return list<string>
     */
    public function columns(): array
    {
        return array_map(static fn ($column): string => $column->name, $this->list->plan()->table->columns ?? []);
    }

    /**
     * What is offered for columns, as it is typed: "status: open, closed" or "house: houses.code".
     */
    public function offered(): string
    {
        return implode("\n", array_map(static fn (string $column, array $of): string => "$column: ".(array_is_list($of) ? implode(', ', $of) : "$of[table].$of[column]"), array_map(strval(...), array_keys($this->settings['offered'] ?? [])), $this->settings['offered'] ?? []));
    }

    /**
     * `label = $.label.address, state = $.state`, as lines or with commas before the next name.
     *
     * @return array<string, string> paths by column
     */
    private static function puts(mixed $text): array
    {
        $puts = [];
        foreach (preg_split('/\R|,(?=\s*[^\s,=\[\]?]+\s*=\s*\$)/', is_string($text) ? $text : '') ?: [] as $one) {
            [$column, $path] = array_map(trim(...), explode('=', $one, 2) + [1 => '']);
            $column === '' || $puts[$column] = $path;
        }

        return $puts;
    }

    /**
     * What a form says → `change` of the source file.
     *
     * @param  array<string, mixed>  $given
     * @return array<string, mixed>
     */
    public function read(array $given): array
    {
        $change = [];
        $bind = function (mixed $one, string $role): ?array {
            $slug = is_array($one) && is_string($one['endpoint'] ?? null) ? $one['endpoint'] : '';
            if ($slug === '') {
                return null;
            }
            $inputs = array_filter(is_array($one['inputs'] ?? null) ? $one['inputs'] : [], static fn (mixed $column): bool => is_string($column) && $column !== '');
            // Another endpoint than before has other inputs, which are proposed.
            $proposed = str_starts_with($role, 'together.') ? $this->proposal->settings['together'][substr($role, 9)] ?? [] : ($role === 'actions' ? array_column($this->proposal->settings['actions'] ?? [], null, 'endpoint')[$slug] ?? [] : $this->proposal->settings[$role] ?? []);
            $inputs = ($one['was'] ?? '') !== $slug && ($proposed['endpoint'] ?? '') === $slug ? $proposed['inputs'] ?? [] : $inputs;
            $name = is_string($one['name'] ?? null) ? trim($one['name']) : '';

            return ['endpoint' => $slug] + ($name === '' ? [] : ['name' => $name]) + ($inputs === [] ? [] : ['inputs' => $inputs]) + array_filter(['puts' => $role === 'actions' ? self::puts($one['puts'] ?? '') : []]);
        };
        foreach (array_keys(self::ROLES) as $role) {
            $bound = $bind($given['role'][$role] ?? null, $role);
            $bound === null || $change[$role] = $bound;
        }
        foreach (is_array($given['actions'] ?? null) ? $given['actions'] : [] as $one) {
            $bound = $bind($one, 'actions');
            $bound === null || $change['actions'][] = $bound;
        }
        foreach (explode("\n", is_string($given['offered'] ?? null) ? $given['offered'] : '') as $line) {
            [$column, $of] = array_map(trim(...), explode(':', $line, 2) + [1 => '']);
            if ($column !== '' && $of !== '') {
                $change['offered'][$column] = preg_match('/^([^\s,.]+)\.([^\s,.]+)$/D', $of, $part) === 1 ? ['table' => $part[1], 'column' => $part[2]] : array_values(array_filter(array_map(trim(...), explode(',', $of)), static fn (string $one): bool => $one !== ''));
            }
        }
        foreach (['sends' => ['changed', 'all'], 'after' => ['answer', 'get', 'nothing']] as $name => $known) {
            in_array($given[$name] ?? '', $known, true) && $change[$name] = $given[$name];
        }
        ($given['approval_rows'] ?? '') !== '' && $change['approval']['rows'] = (int) $given['approval_rows'];
        $in = array_values(array_filter(array_map(trim(...), explode(',', is_string($given['approval_in'] ?? null) ? $given['approval_in'] : ''))));
        $in === [] || $change['approval']['in'] = $in;

        $change += $this->travels($given, $bind);

        return $change + array_intersect_key($this->settings, ['columns' => 1]);
    }
}
