<?php

declare(strict_types=1);

namespace App\Http\Services;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use DeepSpring\Flatten\Plan;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Filter\Check;
use DeepSpring\OData\Filter\Conditions;
use DeepSpring\OData\Filter\InvalidFilter;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\SetChoice;
use DeepSpring\OData\Url\Address;
use DeepSpring\OData\Url\QueryOptions;
use DeepSpring\SourceFile\SourceFile;

/**
 * The page on which columns, conditions, order and related sets are chosen.
 */
final class ChoiceSheet
{
    private const DEEPEST = 4;

    /** @var list<ChoiceLevel> each before those inside it */
    public array $levels = [];

    public readonly SetChoice $choice;

    /** @var array<string, mixed> */
    public readonly array $endpoint;

    public readonly ?StructuredType $type;

    /**
     * @param  array<string, string>  $faults  field → sentence
     * @param  array<array-key, mixed>  $form  what was sent, when some of it could not be taken
     */
    public function __construct(public readonly Source $source, public readonly Endpoint $row, SourceFile $file, public readonly Model $model, public readonly EntitySet $set, public readonly Environment $environment, public readonly array $faults = [], private readonly array $form = [])
    {
        $this->endpoint = $file->endpoint($row->slug)->endpoint ?? [];
        $this->choice = SetChoice::of($this->endpoint);
        $this->type = $model->typeOf($set);
        if ($this->type !== null) {
            $this->add('', $this->type, $set, ! $set->single, $this->choice, 0);
        }
    }

    /**
     * What was typed into a field that could not be taken.
     */
    public function typed(int $level, int $row, string $field): ?string
    {
        $value = isset($this->faults["levels[$level][conditions][$row]"]) ? $this->form['levels'][$level]['conditions'][$row][$field] ?? null : null;

        return is_string($value) ? $value : null;
    }

    /**
     * Rows of conditions that could not be taken, after those that could.
     *
     * @return list<int>
     */
    public function refusedRows(int $level): array
    {
        $rows = [];
        foreach (array_keys($this->faults) as $field) {
            if (preg_match("/^levels\\[$level\\]\\[conditions\\]\\[(\\d+)\\]$/D", (string) $field, $part) === 1) {
                $rows[] = (int) $part[1];
            }
        }

        return $rows;
    }

    public function address(): Address
    {
        $derived = new Derived($this->model->version, $this->model);
        $options = array_column($derived->parts($this->endpoint)['ask']['inputs'] ?? [], 'fixed', 'name');

        return new Address((string) parse_url((string) ($this->source->current()->source()->base($this->environment->slug) ?? ''), PHP_URL_PATH).'/'.$this->set->name, $options);
    }

    /**
     * @return list<string> what this version cannot say, and parts that do not follow the choice
     */
    public function remarks(): array
    {
        $own = (new Derived($this->model->version, $this->model))->own($this->endpoint);
        $names = ['ask' => 'the request', 'answer' => 'where the records are', 'onward' => 'the paging', 'flatten' => 'the columns'];

        return [...(new QueryOptions($this->model->version))->unsayable($this->choice), ...($this->set->needsFilter() && $this->choice->filter === '' ? ["The service says that {$this->set->name} can only be read with a filter."] : []),
            ...array_map(static fn (string $part): string => ucfirst($names[$part]).' '.($part === 'flatten' ? 'were' : 'was').' changed on the sheet and '.($part === 'flatten' ? 'do' : 'does').' not follow what is chosen here.', $own)];
    }

    /**
     * @return list<string>
     */
    public function ownParts(): array
    {
        return (new Derived($this->model->version, $this->model))->own($this->endpoint);
    }

    /**
     * @return list<array{name: string, columns: int, key: list<string>}>
     */
    public function tables(): array
    {
        if (! isset($this->endpoint['flatten'])) {
            return [];
        }

        return array_map(static fn ($table): array => ['name' => $table->name, 'columns' => count($table->columns), 'key' => $table->key], Plan::of($this->endpoint['flatten'])->tables());
    }

    private function add(string $path, StructuredType $type, ?EntitySet $set, bool $many, SetChoice $choice, int $depth): void
    {
        $form = new ChoiceForm($this->model, $this->set);
        $check = new Check($this->model, $type, $set);
        $broken = null;
        $findings = [];
        try {
            $findings = $choice->filter === '' ? [] : $check->filter($choice->filter);
        } catch (InvalidFilter $invalid) {
            $broken = $invalid->getMessage();
        }
        $this->levels[] = new ChoiceLevel(count($this->levels), $path, $type, $set, $many, $choice, $form->paths($type), (new Conditions($this->model, $type))->read($choice->filter), $this->comparable($type, $set), $findings, $choice->order === '' ? [] : $check->order($choice->order), $broken);
        foreach ($depth < self::DEEPEST ? $choice->expand : [] as $name => $inner) {
            $navigation = $type->navigation((string) $name);
            $target = $this->model->type($navigation->type ?? '');
            if ($navigation !== null && $target !== null) {
                $this->add(ltrim("$path/$name", '/'), $target, $set === null ? null : $this->model->target($set, (string) $name), $navigation->many, $inner, $depth + 1);
            }
        }
    }

    /**
     * Paths that conditions and orders can name: properties, those of complex ones, and those one step
     * along navigation.
     *
     * @return list<string>
     */
    private function comparable(StructuredType $type, ?EntitySet $set): array
    {
        $paths = [];
        $form = new ChoiceForm($this->model, $this->set);
        foreach ($form->paths($type) as $path) {
            $property = $type->property(explode('/', $path)[0]);
            $inner = str_contains($path, '/') ? $this->model->type($property->type ?? '')?->property(explode('/', $path)[1]) : $property;
            if ($property !== null && $inner !== null && $this->model->primitive($inner->type) !== 'Edm.Stream' && ! str_starts_with($this->model->primitive($inner->type), 'Edm.Geo')) {
                $paths[] = $path;
            }
        }
        foreach ($type->navigations as $navigation) {
            if ($navigation->many && $this->model->version->value < 3) {
                continue;
            }
            foreach ($this->model->type($navigation->type)->properties ?? [] as $property) {
                if (! $property->many && str_starts_with($this->model->primitive($property->type), 'Edm.') && $this->model->primitive($property->type) !== 'Edm.Stream') {
                    $paths[] = "$navigation->name/$property->name";
                }
            }
        }

        return $paths;
    }
}
