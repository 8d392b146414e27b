<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Hands out names of inputs, none twice.
 */
final class InputNames
{
    private const LONGEST = 120;

    /**
     * @param  list<string>  $taken
     */
    public function __construct(private array $taken = [])
    {
    }

    /**
     * The last step of a path into a body, with as many before it as are needed to be the only one.
     *
     * @param  list<string>  $path  names of members
     */
    public function take(array $path): string
    {
        $clean = array_map(static fn (string $step): string => trim((string) preg_replace('/[^\pL\pN_-]+/u', '_', $step), '_') ?: 'value', $path ?: ['body']);
        $name = 'value';
        for ($many = 1; $many <= count($clean); $many++) {
            $name = mb_substr(implode('_', array_slice($clean, -$many)), 0, self::LONGEST);
            if (! in_array($name, $this->taken, true)) {
                break;
            }
        }
        for ($base = $name, $number = 2; in_array($name, $this->taken, true); $number++) {
            $name = "{$base}_$number";
        }
        $this->taken[] = $name;

        return $name;
    }
}
