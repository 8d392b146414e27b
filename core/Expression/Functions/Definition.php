<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use DeepSpring\Expression\ValueKind;

/**
 * One function: what it takes and gives, in words and with an example.
 */
final readonly class Definition
{
    public string $name;

    public int $least;

    /**
     * @param  string  $signature  as it is written, like "left(text, count)"
     * @param  list<ValueKind>  $takes
     * @param  ValueKind|null  $gives  null: what the values have in common
     * @param  array{string, string}  $example  an expression and what it gives, as text
     * @param  \Closure  $run  given the values; a lazy one, the row and what computes each value
     * @param  int|null  $least  values at least; all of them without it
     * @param  int  $givesFrom  the first value that says what kind it gives
     * @param  (\Closure(list<\DeepSpring\Expression\Node\ExpressionNode>, int): void)|null  $check
     */
    public function __construct(
        public string $group,
        public string $signature,
        public array $takes,
        public ?ValueKind $gives,
        public string $about,
        public array $example,
        public \Closure $run,
        ?int $least = null,
        public bool $repeats = false,
        public bool $takesEmpty = false,
        public bool $isLazy = false,
        public int $givesFrom = 0,
        public ?\Closure $check = null,
    ) {
        $this->name = (string) strstr($signature, '(', true);
        $this->least = $least ?? count($takes);
    }

    public function most(): int
    {
        return $this->repeats ? 100 : count($this->takes);
    }

    public function wants(int $number): ValueKind
    {
        return $this->takes[$number] ?? $this->takes[count($this->takes) - 1] ?? ValueKind::Any;
    }
}
