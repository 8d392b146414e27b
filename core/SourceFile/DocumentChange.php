<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * One thing that differs between two source files.
 */
final readonly class DocumentChange
{
    /**
     * @param  list<string>  $path  steps to it; elements of lists by their name: `endpoints`, `loans`, `ask`, `path`
     * @param  string  $kind  added, removed, changed
     */
    public function __construct(public array $path, public string $kind, public mixed $was, public mixed $now)
    {
    }

    /**
     * The steps as a person says them.
     *
     * @return list<string>
     */
    public function place(): array
    {
        $words = ['endpoints' => 'endpoint', 'inputs' => 'input', 'columns' => 'column', 'branches' => 'branch table', 'environments' => 'environment', 'of' => 'tree', 'records' => 'records', 'does' => 'role', 'headers' => 'header', 'access' => 'access', 'variables' => 'variable'];
        $place = [];
        for ($at = 0; $at < count($this->path); $at++) {
            $step = $this->path[$at];
            if (isset($words[$step], $this->path[$at + 1]) && in_array($step, ['endpoints', 'inputs', 'columns', 'branches', 'environments', 'headers', 'access', 'variables'], true)) {
                $place[] = $words[$step].' '.$this->path[++$at];
            } else {
                $place[] = str_replace('_', ' ', $words[$step] ?? $step);
            }
        }

        return $place;
    }

    /**
     * A value in one line, as the source file would have it.
     */
    public static function shown(mixed $value): string
    {
        return match (true) {
            $value === null => '—',
            is_string($value) => $value === '' ? '""' : $value,
            is_bool($value) => $value ? 'true' : 'false',
            default => (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE),
        };
    }
}
