<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * What a column makes of a path that finds several values.
 */
enum ManyValues: string
{
    case First = 'first';
    case Last = 'last';
    case Count = 'count';
    case Join = 'join';
    case Json = 'json';

    /**
     * @param  list<mixed>  $values
     */
    public function reduce(array $values, string $with): mixed
    {
        return match ($this) {
            self::First => $values[0] ?? null,
            self::Last => $values === [] ? null : $values[count($values) - 1],
            self::Count => count($values),
            self::Join => $values === [] ? null : $this->joined($values, $with),
            self::Json => $values,
        };
    }

    /**
     * @param  list<mixed>  $values
     */
    private function joined(array $values, string $with): mixed
    {
        $texts = [];
        foreach ($values as $value) {
            if (is_array($value) || is_object($value)) {
                return $values;
            }
            if ($value !== null) {
                $texts[] = is_string($value) ? $value : (string) json_encode($value);
            }
        }

        return implode($with, $texts);
    }
}
