<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A value that a statement asks for, written as `:house`.
 */
final readonly class Parameter
{
    /**
     * @param  string|null  $default  as somebody types it; null where a value has to be given
     * @param  list<string>  $choices  values that are offered; empty for any
     * @param  bool  $many  whether several values can be given, for "in (:house)"
     */
    public function __construct(public string $name, public ParameterKind $kind = ParameterKind::Text, public ?string $default = null, public array $choices = [], public bool $many = false)
    {
    }

    /**
     * @param  array{kind?: string, default?: string|null, choices?: list<string>, many?: bool}  $settings
     */
    public static function of(string $name, array $settings): self
    {
        return new self($name, ParameterKind::tryFrom($settings['kind'] ?? 'text') ?? ParameterKind::Text, $settings['default'] ?? null, $settings['choices'] ?? [], $settings['many'] ?? false);
    }

    /**
     * @return array{kind: string, default: string|null, choices: list<string>, many: bool}
     */
    public function settings(): array
    {
        return ['kind' => $this->kind->value, 'default' => $this->default, 'choices' => $this->choices, 'many' => $this->many];
    }
}
