<?php

declare(strict_types=1);

namespace App\Http\Services;

use DeepSpring\OData\Filter\Condition;
use DeepSpring\OData\Filter\Conditions;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\SetChoice;
use DeepSpring\OData\Url\InvalidLiteral;

/**
 * What the page of a choice sends → the choice of a source file. A level is the set itself, or what
 * navigation leads to.
 */
final class ChoiceForm
{
    private const DEEPEST = 4;

    /** @var array<string, string> field → what is wrong with it */
    public array $faults = [];

    /** @var array<string, array<array-key, mixed>> path of a level → its fields */
    private array $levels = [];

    public function __construct(private readonly Model $model, private readonly EntitySet $set)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<array-key, mixed>  $form
     * @return array<string, mixed>
     */
    public function apply(array $endpoint, array $form): array
    {
        $this->faults = [];
        $this->levels = [];
        foreach (is_array($form['levels'] ?? null) ? $form['levels'] : [] as $number => $level) {
            if (is_array($level) && is_string($level['path'] ?? null)) {
                $this->levels[$level['path']] = $level + ['number' => $number];
            }
        }
        $type = $this->model->typeOf($this->set);
        if ($type === null || ! isset($this->levels[''])) {
            return $endpoint;
        }
        $choice = $this->level('', $type, SetChoice::of($endpoint));
        $endpoint = array_diff_key($endpoint, array_flip(['select', 'filter', 'order', 'top', 'skip', 'search', 'expand', 'page', 'track'])) + $choice->document();
        $page = $this->page(is_array($form['page'] ?? null) ? $form['page'] : [], $type, $choice);
        if ($page !== []) {
            $endpoint['page'] = $page;
        }
        if (($form['track'] ?? '') === '1') {
            $endpoint['track'] = true;
        }

        return $endpoint;
    }

    private function level(string $path, StructuredType $type, SetChoice $was, int $depth = 0): SetChoice
    {
        $level = $this->levels[$path] ?? null;
        if ($level === null) {
            return $was;
        }
        $number = (string) $level['number'];
        // The key comes along anyway, and is what is left when nothing else is chosen.
        $key = array_values(array_intersect($this->paths($type), array_map(static fn (KeyPart $part): string => $part->path, $type->key)));
        $known = array_values(array_diff($this->paths($type), $key));
        $select = array_values(array_intersect($known, $this->texts($level['select'] ?? null)));
        if (count($select) === count($known)) {
            $select = [];
        } elseif ($select === []) {
            $select = $key;
        }
        $expand = [];
        foreach ($depth < self::DEEPEST ? $this->texts($level['expand'] ?? null) : [] as $name) {
            $target = $this->model->type($type->navigation($name)->type ?? '');
            if ($target !== null) {
                $expand[$name] = $this->level(ltrim("$path/$name", '/'), $target, $was->expand[$name] ?? new SetChoice, $depth + 1);
            }
        }

        return new SetChoice($select, $this->filter($level, $type, $number, $path), $this->order($level), $this->number($level, 'top', $number), $expand, $path === '' ? $this->text($level, 'search') : '', $was->skip);
    }

    /**
     * Paths that can be selected: those of complex properties by what is in them.
     *
     * @return list<string>
     */
    public function paths(StructuredType $type): array
    {
        $paths = [];
        foreach ($type->properties as $property) {
            if ($this->model->primitive($property->type) === 'Edm.Stream') {
                continue;
            }
            $inner = $property->many || str_starts_with($this->model->primitive($property->type), 'Edm.') ? null : $this->model->type($property->type);
            if ($inner === null || ! $this->model->version->isV4()) {
                $paths[] = $property->name;
            } else {
                foreach ($inner->properties as $one) {
                    $paths[] = "$property->name/$one->name";
                }
            }
        }

        return $paths;
    }

    /**
     * The text, when it was changed; else what the conditions say.
     *
     * @param  array<array-key, mixed>  $level
     */
    private function filter(array $level, StructuredType $type, string $number, string $path): string
    {
        $text = $this->text($level, 'filter');
        if ($text !== $this->text($level, 'filter_was') || ! is_array($level['conditions'] ?? null)) {
            return $text;
        }
        $conditions = [];
        $ours = new Conditions($this->model, $type);
        foreach ($level['conditions'] as $row => $one) {
            if (! is_array($one) || $this->text($one, 'path') === '') {
                continue;
            }
            $condition = new Condition($this->text($one, 'path'), isset(Condition::OPERATORS[$this->text($one, 'operator')]) ? $this->text($one, 'operator') : 'eq', is_string($one['value'] ?? null) ? $one['value'] : '');
            try {
                if ($condition->value !== '' || in_array($condition->operator, ['empty', 'filled'], true) || ($ours->look($condition->path)[0] ?? '') === 'Edm.String' && in_array($condition->operator, ['eq', 'ne'], true) && ($one['done'] ?? '') === '1') {
                    $ours->write([$condition]);
                    $conditions[] = $condition;
                } else {
                    $this->faults["levels[$number][conditions][$row]"] = 'Give a value to compare with.';
                }
            } catch (InvalidLiteral $invalid) {
                $this->faults["levels[$number][conditions][$row]"] = $invalid->getMessage();
            }
        }

        return $ours->write($conditions);
    }

    /**
     * @param  array<array-key, mixed>  $level
     */
    private function order(array $level): string
    {
        $orders = [];
        foreach (is_array($level['order'] ?? null) ? $level['order'] : [] as $one) {
            $by = is_array($one) ? $this->text($one, 'by') : '';
            if ($by !== '') {
                $orders[] = $by.($this->text($one, 'way') === 'desc' ? ' desc' : '');
            }
        }

        return implode(',', $orders);
    }

    /**
     * @param  array<array-key, mixed>  $page
     * @return array<string, mixed>
     */
    private function page(array $page, StructuredType $type, SetChoice $choice): array
    {
        $made = [];
        if ($this->text($page, 'by') === 'client') {
            $made['by'] = 'client';
            $made['stable'] = array_map(static fn (KeyPart $part): string => $part->path, $type->key);
        }
        $size = $this->number($page, 'size', 'page');
        if ($size !== null) {
            $made['size'] = min(100_000, $size);
        } elseif (isset($made['by'])) {
            $made['size'] = $this->set->maxPage() ?? 500;
        }
        if (($page['count'] ?? '') !== '1') {
            $made['count'] = false;
        }
        if (($page['long_numbers'] ?? '') === '1') {
            $made['long_numbers'] = true;
        }

        return $made;
    }

    /**
     * @param  array<array-key, mixed>  $fields
     */
    private function number(array $fields, string $name, string $number): ?int
    {
        $text = $this->text($fields, $name);
        if ($text === '') {
            return null;
        }
        if (ctype_digit($text) && (int) $text > 0 && strlen($text) < 10) {
            return (int) $text;
        }
        $this->faults[($number === 'page' ? 'page' : "levels[$number]")."[$name]"] = "\"$text\" is no number of rows.";

        return null;
    }

    /**
     * @param  array<array-key, mixed>  $fields
     */
    private function text(array $fields, string $name): string
    {
        return is_string($fields[$name] ?? null) ? trim($fields[$name]) : '';
    }

    /**
     * @return list<string>
     */
    private function texts(mixed $list): array
    {
        return array_values(array_filter(is_array($list) ? $list : [], is_string(...)));
    }
}
