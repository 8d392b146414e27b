<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Models\Environment;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use DeepSpring\Sql\BoundStatement;
use DeepSpring\Sql\Parameter;

/**
 * The parameters of what stands in the editor, as a form has them: p[house] the value, k[house] its kind,
 * d[house] the default, c[house] choices, m[house] whether several can be given.
 */
final readonly class AskedValues
{
    /** Choices of a statement that are offered. */
    private const OFFERED = 500;

    /** @var array<string, Parameter> by name, in the order of the text */
    public array $parameters;

    /** @var array<string, string|list<string>> */
    public array $values;

    /**
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $saved  what stands in the saved query or draft
     * @param  array<string, mixed>  $given  of a request
     */
    public function __construct(string $sql, array $saved, array $given)
    {
        $of = static fn (string $part, string $name): mixed => is_array($given[$part] ?? null) ? $given[$part][$name] ?? null : null;
        $text = static fn (mixed $value): ?string => is_string($value) ? mb_substr($value, 0, 4000) : null;
        $parameters = $values = [];
        foreach (BoundStatement::names($sql) as $name) {
            $settings = $saved[$name] ?? [];
            if (is_string($of('k', $name))) {
                $choices = array_values(array_filter(array_map(trim(...), explode("\n", $text($of('c', $name)) ?? '')), static fn (string $one): bool => $one !== ''));
                $default = $text($of('d', $name)) ?? '';
                $settings = ['kind' => (string) $of('k', $name), 'default' => $default === '' ? null : $default, 'choices' => $choices, 'many' => $of('m', $name) === '1'];
            }
            $parameters[$name] = Parameter::of($name, $settings);
            $value = $of('p', $name);
            $values[$name] = is_array($value) ? array_values(array_filter(array_map($text, $value), is_string(...))) : $text($value) ?? '';
        }
        [$this->parameters, $this->values] = [$parameters, $values];
    }

    /**
     * @return array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>
     */
    public function settings(): array
    {
        return array_map(static fn (Parameter $one): array => $one->settings(), $this->parameters);
    }

    /**
     * What is offered for a parameter: its list, or the first column of its statement.
     *
     * @return list<string>
     */
    public function choices(string $name, QueryRunner $runner, User $person, Environment $environment): array
    {
        $choices = $this->parameters[$name]->choices;
        $sql = implode("\n", $choices);
        if (preg_match('/^\s*(?:select|with)\b/i', $sql) !== 1) {
            return $choices;
        }
        $found = [];
        try {
            foreach ($runner->stream($person, $environment, $sql)->rows as $row) {
                $found[] = (string) ($row[0] ?? '');
                if (count($found) === self::OFFERED) {
                    break;
                }
            }
        } catch (QueryRefused) {
            return [];
        }

        return array_values(array_unique($found));
    }

    public function value(string $name): string
    {
        $value = $this->values[$name] ?? '';

        return is_array($value) ? implode(', ', $value) : $value;
    }

    /**
     * @return list<string>
     */
    public function chosen(string $name): array
    {
        $value = $this->values[$name] ?? '';

        return is_array($value) ? $value : ($value === '' ? [] : [$value]);
    }
}
