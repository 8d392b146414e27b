<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * A change of the settings that would mend what was diagnosed. It names places in the source
 * file; `endpoint` at the front stands for the endpoint that was tried.
 */
final readonly class Repair
{
    /**
     * @param  list<array{at: list<int|string>, to: mixed}>  $changes  `to` null takes the member out
     * @param  string|null  $cleanSecret  name of a secret whose value is to be freed of what was pasted with it
     */
    public function __construct(public string $label, public array $changes = [], public ?string $cleanSecret = null)
    {
    }

    /**
     * @param  list<int|string>  $at
     */
    public static function set(string $label, array $at, mixed $to): self
    {
        return new self($label, [['at' => $at, 'to' => $to]]);
    }

    public static function cleanSecret(string $label, string $name): self
    {
        return new self($label, [], $name);
    }

    /**
     * @param  array<string, mixed>  $document  a source file
     * @return array<string, mixed>
     */
    public function apply(array $document, ?string $endpoint): array
    {
        foreach ($this->changes as ['at' => $at, 'to' => $to]) {
            if ($at[0] === 'endpoint') {
                $number = array_search($endpoint, array_column($document['endpoints'] ?? [], 'slug'), true);
                if ($number === false) {
                    continue;
                }
                $at = ['endpoints', $number, ...array_slice($at, 1)];
            }
            $document = self::put($document, $at, $to);
        }

        return $document;
    }

    /**
     * @param  array<array-key, mixed>  $into
     * @param  list<int|string>  $at
     * @return array<array-key, mixed>
     */
    private static function put(array $into, array $at, mixed $to): array
    {
        $step = array_shift($at);
        if ($step === null) {
            return $into;
        }
        if ($at !== []) {
            $into[$step] = self::put(is_array($into[$step] ?? null) ? $into[$step] : [], $at, $to);
        } elseif ($to === null) {
            $isList = array_is_list($into);
            unset($into[$step]);
            $into = $isList ? array_values($into) : $into;
        } else {
            $into[$step] = $to;
        }

        return $into;
    }

    /**
     * @return array{label: string, changes: list<array{at: list<int|string>, to: mixed}>, cleanSecret: string|null}
     */
    public function toArray(): array
    {
        return ['label' => $this->label, 'changes' => $this->changes, 'cleanSecret' => $this->cleanSecret];
    }

    /**
     * @param  array{label: string, changes: list<array{at: list<int|string>, to: mixed}>, cleanSecret?: string|null}  $of
     */
    public static function fromArray(array $of): self
    {
        return new self($of['label'], $of['changes'], $of['cleanSecret'] ?? null);
    }
}
