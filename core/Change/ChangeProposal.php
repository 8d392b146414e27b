<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\Body\JsonBody;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\Input;
use DeepSpring\Ask\Place;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * Which endpoints of a source are about the records of a list, and which columns fill their inputs: by the address, by
 * where a value stands in the record and in what is sent, by name.
 */
final class ChangeProposal
{
    /** @var list<string> what it was proposed by, in a sentence each */
    public array $reasons = [];

    /** @var array<string, mixed> `change` of a source file; empty where nothing was found */
    public array $settings = [];

    private function __construct(private readonly TablePlan $table)
    {
    }

    public static function of(SourceFile $file, EndpointDefinition $list): self
    {
        $plan = $list->plan();
        $proposal = new self($plan->table ?? throw new \LogicException('Without columns there is nothing to be changed.'));
        foreach ($plan->table->key === [] ? [] : $file->endpoints() as $endpoint) {
            $proposal->consider($endpoint, $list);
        }

        return $proposal;
    }

    private function consider(EndpointDefinition $endpoint, EndpointDefinition $list): void
    {
        $role = $endpoint->does();
        $path = self::plain($endpoint->endpoint['ask']['path'] ?? '');
        $home = self::plain($list->endpoint['ask']['path'] ?? '');
        $set = $list->endpoint['entity_set'] ?? null;
        $isSet = is_string($set) && ($endpoint->endpoint['entity_set'] ?? null) === $set;
        $isOne = $isSet || preg_match('~^'.preg_quote($home, '~').'(?:/\{\}|\(\{\}\))$~D', $path) === 1;
        $isHome = $isSet || $path === $home;
        $isBelow = str_starts_with($path, "$home/{}/") || preg_match('~^'.preg_quote($home, '~').'\((?:\w+=)?\{\}(?:,\w+=\{\})*\)/~D', $path) === 1;
        $body = $endpoint->ask()->body;
        if ($body instanceof JsonBody && $body->each !== null && in_array($role, [EndpointRole::Create, EndpointRole::Update, EndpointRole::Delete], true)) {
            $this->several($endpoint, $role, str_starts_with("$path/", "$home/"));

            return;
        }
        $as = match (true) {
            $role === EndpointRole::Create && $isHome => 'create',
            $isOne && in_array($role, [EndpointRole::Get, EndpointRole::Update, EndpointRole::Delete], true) => $role->value,
            $role === EndpointRole::Call && ($isBelow || $isOne) => 'actions',
            default => null,
        };
        if ($as === null || $as !== 'actions' && isset($this->settings[$as])) {
            return;
        }
        $binding = ['endpoint' => $endpoint->slug] + ($as === 'actions' ? ['name' => $endpoint->name] : []) + array_filter(['inputs' => $this->inputs($endpoint)]);
        $as === 'actions' ? $this->settings['actions'][] = $binding : $this->settings[$as] = $binding;
        $this->reasons[] = $isSet && $as !== 'actions' ? "{$endpoint->name} is about one record of the same entity set: it {$role->value}s it." : "{$endpoint->name} stands at ".($endpoint->endpoint['ask']['path'] ?? '/').', '.($isHome ? 'the address of the list itself' : 'below the list').($as === 'actions' ? ': called on one record.' : ": it {$role->value}s one record.");
    }

    private function several(EndpointDefinition $endpoint, EndpointRole $role, bool $isNear): void
    {
        if ($isNear && ! isset($this->settings['together'][$role->value])) {
            $this->settings['together'][$role->value] = ['endpoint' => $endpoint->slug] + array_filter(['inputs' => $this->inputs($endpoint)]);
            $this->reasons[] = "{$endpoint->name} takes several records in one request: it {$role->value}s them together.";
        }
    }

    /**
     * @return array<string, string> input → column
     */
    private function inputs(EndpointDefinition $endpoint): array
    {
        $bound = new BoundEndpoint($endpoint, [], '');
        $places = array_flip($bound->places());
        $found = [];
        foreach ($bound->inputs() as $input) {
            $column = $input->fixed !== null || BoundEndpoint::fillsItself($input) ? null : $this->column($input, $places[$input->name] ?? null);
            $column === null || $found[$input->name] = $column->name;
        }

        return $found;
    }

    private function column(Input $input, ?string $place): ?Column
    {
        $columns = array_column($this->table->columns, null, 'name');
        if ($input->in === Place::Path && count($this->table->key) === 1) {
            return $columns[$this->table->key[0]];
        }
        foreach ($place === null ? [] : $columns as $column) {
            // It stands at the same place in the record as in what is sent.
            if ($column->path?->text === $place || $column->many->value === 'join' && $column->path?->text === $place.'[*]') {
                return $column;
            }
        }
        foreach ($columns as $column) {
            // The code or id of what stands below that name in the record: borrower ← $.borrower.code.
            if ($place !== null && $column->path !== null && preg_match('/^'.preg_quote($place, '/').'\.(?:id|code|key|slug|number)$/Di', $column->path->text) === 1) {
                return $column;
            }
        }
        $wanted = [self::letters($input->name), self::letters($input->wireName())];
        foreach ($columns as $column) {
            $last = $column->path === null ? '' : self::letters((string) preg_replace('/^.*\.|\[\*\]$/', '', $column->path->text));
            if (in_array(self::letters($column->name), $wanted, true) || $input->in === Place::Path && in_array($last, $wanted, true)) {
                return $column;
            }
        }

        return null;
    }

    private static function letters(string $name): string
    {
        return (string) preg_replace('/[^a-z0-9]/', '', strtolower($name));
    }

    /**
     * A path without the names of its inputs.
     */
    private static function plain(string $path): string
    {
        return rtrim((string) preg_replace('/\{[^{}]*\}/', '{}', $path), '/');
    }
}
