<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * Finds the line of a path in block YAML or in JSON written with a member to a line. What stands
 * in a flow collection has the line of the nearest member that starts one.
 */
final class LineMap
{
    /** @var array<string, int> path → line, from 1 */
    private array $lines = [];

    public function __construct(string $text)
    {
        /** @var list<array{indent: int, path: string, next: int}> $open */
        $open = [['indent' => -1, 'path' => '', 'next' => 0]];
        foreach (explode("\n", $text) as $number => $line) {
            if (preg_match('/^\s*(#|$)/', $line) === 1) {
                continue;
            }
            $indent = strspn($line, ' ');
            $rest = substr($line, $indent);
            if (preg_match('/^[\]}]+,?\s*$/', $rest) === 1) {
                continue;
            }
            while (preg_match('/^(?:-\s+|(?=\{\s*$))/', $rest, $dash) === 1 && (str_starts_with($rest, '-') || $indent > 0)) {
                $this->closeTo($open, $indent);
                $parent = count($open) - 1;
                $path = $open[$parent]['path'].'['.$open[$parent]['next'].']';
                $open[$parent] = ['indent' => $open[$parent]['indent'], 'path' => $open[$parent]['path'], 'next' => $open[$parent]['next'] + 1];
                $this->lines[$path] ??= $number + 1;
                $open[] = ['indent' => $indent, 'path' => $path, 'next' => 0];
                if ($dash[0] === '') {
                    continue 2;
                }
                $indent += strlen($dash[0]);
                $rest = substr($rest, strlen($dash[0]));
            }
            if (preg_match('/^(?:"((?:[^"\\\\]|\\\\.)*)"|\'([^\']*)\'|([^\s"\'{\[:#][^:]*?))\s*:(?:\s|$)/', $rest, $key) === 1) {
                $this->closeTo($open, $indent - 1, true);
                $name = ($key[3] ?? '') !== '' ? $key[3] : (($key[2] ?? '') !== '' ? $key[2] : $key[1]);
                $parent = $open[count($open) - 1]['path'];
                $path = $parent === '' ? $name : "$parent.$name";
                $this->lines[$path] ??= $number + 1;
                $open[] = ['indent' => $indent, 'path' => $path, 'next' => 0];
            }
        }
    }

    public function of(string $path): int
    {
        while (! isset($this->lines[$path])) {
            $cut = max((int) strrpos($path, '.'), (int) strrpos($path, '['));
            if ($cut === 0) {
                return $this->lines[$path] ?? 1;
            }
            $path = substr($path, 0, $cut);
        }

        return $this->lines[$path];
    }

    /**
     * @param  list<array{indent: int, path: string, next: int}>  $open
     */
    private function closeTo(array &$open, int $indent, bool $forKey = false): void
    {
        while (count($open) > 1) {
            $last = end($open);
            $isItem = str_ends_with($last['path'], ']');
            $closes = $forKey ? $last['indent'] > $indent : ($isItem ? $last['indent'] >= $indent : $last['indent'] > $indent);
            if (! $closes) {
                return;
            }
            array_pop($open);
        }
    }
}
