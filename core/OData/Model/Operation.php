<?php

declare(strict_types=1);

namespace DeepSpring\OData\Model;

/**
 * A function (it only looks) or an action (it may change something).
 */
final readonly class Operation
{
    /**
     * @param  list<Property>  $parameters  without the one it is bound to
     */
    private function __construct(
        public string $name,
        public bool $isAction,
        /** The type that it is bound to; null when it stands alone. */
        public ?string $on,
        public bool $onMany,
        public array $parameters,
        public ?string $returns,
        public bool $returnsMany,
        /** The set that what it returns is of. */
        public string $set,
        /** In versions 2 and 3. */
        public string $method,
        public string $about,
    ) {
    }

    /**
     * @param  array<string, mixed>  $facts
     */
    public static function of(string $name, array $facts): self
    {
        $parameters = array_map(static fn (array $one): Property => Property::of($one['name'], $one), $facts['parameters']);
        $on = $facts['bound'] ? array_shift($parameters) : null;
        $isAction = $facts['kind'] === 'action';

        return new self($name, $isAction, $on?->type, $on->many ?? false, array_values($parameters), $facts['returns']['type'] ?? null, $facts['returns']['many'] ?? false, $facts['set'] ?? '', $facts['method'] ?? ($isAction ? 'POST' : 'GET'), $facts['about'] ?? $facts['label'] ?? '');
    }

    public function shortName(): string
    {
        return substr($this->name, (int) strrpos(".$this->name", '.'));
    }
}
