<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Describe\InputNames;

/**
 * Inputs of one endpoint as they are found in its requests. Each has a name that no other has; where
 * that is not the one that stood in the request, it is sent as that.
 */
final class SeenInputs
{
    /** Longest name that an input has. */
    private const LONGEST = 190;

    /** @var list<array<string, mixed>> */
    private array $inputs = [];

    /** @var array<string, true> place and name in the request */
    private array $there = [];

    public function has(string $in, string $name, bool $isList, bool $isBare): bool
    {
        return isset($this->there["$in $name".($isList ? '[]' : '').($isBare ? ' alone' : '')]);
    }

    /**
     * @param  list<string>  $values  as they were sent; none for one that nobody filled in
     * @param  array<string, mixed>  $more  of the input
     * @param  bool  $isBare  whether the name stood alone, without "="
     * @param  bool  $isSent  whether it has a name in the request, which an input of a path has not
     */
    public function add(string $name, string $in, array $values, array $more = [], bool $isBare = false, bool $isSent = true): void
    {
        $this->there["$in $name".(($more['many'] ?? '') === 'brackets' ? '[]' : '').($isBare ? ' alone' : '')] = true;
        $taken = $this->names();
        $own = in_array($name, $taken, true) || mb_strlen($name) > self::LONGEST ? (new InputNames($taken))->take([$name]) : $name;
        $isMany = isset($more['many']);
        $this->inputs[] = ['name' => $own, 'in' => $in] + $more + ($isSent && $own !== $name ? ['send_as' => $name] : [])
            + match (true) {
                $values === [] => [],
                $values === [''] => ['send_empty' => $isBare ? 'bare' : true],
                $isMany => ['try' => $values] + ($isBare && implode('', $values) === '' ? ['send_empty' => 'bare'] : []),
                default => ['try' => $values[0]],
            };
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_column($this->inputs, 'name');
    }

    /**
     * @return list<array<string, mixed>>
     */
    public function all(): array
    {
        return $this->inputs;
    }
}
