<?php

declare(strict_types=1);

namespace DeepSpring\Value\Kind;

/**
 * Kinds of the same sort, by their names. To add one, write its class and name it where the family is made.
 *
 * @template T of Declared
 */
final class Family
{
    /** @var array<string, class-string<T>> */
    private array $classes = [];

    /**
     * @param  class-string<T>  $interface  that each of them implements
     * @param  list<class-string<T>>  $classes
     */
    public function __construct(string $interface, array $classes)
    {
        foreach ($classes as $class) {
            is_a($class, $interface, true) || throw new \LogicException("$class is no $interface.");
            $this->add($class);
        }
    }

    /**
     * @param  class-string<T>  $class
     */
    public function add(string $class): void
    {
        $this->classes[$class::kind()->name] = $class;
    }

    public function remove(string $name): void
    {
        unset($this->classes[$name]);
    }

    /**
     * @return class-string<T>|null
     */
    public function class(string $name): ?string
    {
        return $this->classes[$name] ?? null;
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_map(strval(...), array_keys($this->classes));
    }

    public function kind(string $name): ?Kind
    {
        return isset($this->classes[$name]) ? $this->classes[$name]::kind() : null;
    }

    /**
     * @return array<string, Kind> by name
     */
    public function kinds(): array
    {
        return array_map(static fn (string $class): Kind => $class::kind(), $this->classes);
    }

    /**
     * @return array<string, string> name → title
     */
    public function titles(): array
    {
        return array_map(static fn (Kind $kind): string => $kind->title, $this->kinds());
    }

    /**
     * JSON Schema of an object whose member says which kind it is.
     *
     * @return array<string, mixed>
     */
    public function schema(string $key): array
    {
        return [
            'type' => 'object', 'required' => [$key], 'properties' => [$key => ['enum' => $this->names()]],
            'allOf' => array_values(array_map(static fn (Kind $kind): array => $kind->schema($key), $this->kinds())),
        ];
    }
}
