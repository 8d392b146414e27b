<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportNotice;

/**
 * Follows `$ref` (RFC 6901 pointers, in this file or one beside it). One that leads nowhere is listed
 * once and stands for anything.
 */
final class References
{
    /** @var array<string, array<array-key, mixed>> documents by file name; the main one is '' */
    private array $documents;

    /** @var array<string, true> */
    private array $lost = [];

    /** @var list<ImportNotice> */
    public array $mends = [];

    private bool $toldOfSiblings = false;

    /**
     * @param  array<array-key, mixed>  $document  without its paths
     * @param  (\Closure(): array<array-key, mixed>)|null  $whole  reads it once more, with its paths
     */
    public function __construct(array $document, private readonly string $name, private readonly Files $files, private ?\Closure $whole = null)
    {
        $this->documents = ['' => $document];
    }

    /**
     * What a node stands for, references followed; and the name of the last one, by which a circle is known.
     *
     * @param  string  $from  the file the node stands in
     * @return array{array<array-key, mixed>, string|null, string} node, reference, and the file that it stands in
     */
    public function follow(mixed $node, string $place, string $from = ''): array
    {
        $node = is_array($node) ? $node : [];
        $name = null;
        for ($hops = 0; isset($node['$ref']) && is_string($node['$ref']) && $hops < 50; $hops++) {
            $siblings = array_diff_key($node, ['$ref' => 1]);
            [$file, $pointer] = $this->target($node['$ref'], $from);
            $name = "$file#$pointer";
            $target = $this->find($file, $pointer);
            if ($target === null) {
                if (! isset($this->lost[$name])) {
                    $this->lost[$name] = true;
                    $this->mends[] = ImportNotice::mended($place, "The reference {$node['$ref']} leads nowhere; anything is allowed in its place.");
                }

                return [$siblings, $name, $from];
            }
            $ours = array_diff_key($siblings, ['description' => 1, 'summary' => 1]);
            if ($ours !== [] && ! $this->toldOfSiblings) {
                $this->toldOfSiblings = true;
                $this->mends[] = ImportNotice::mended($place, 'Members stand beside a $ref ('.implode(', ', array_map(strval(...), array_keys($ours))).'); they are taken as additions to what it names, here and elsewhere.');
            }
            $from = $file;
            $node = $siblings + $target;
        }

        return [$node, $name, $from];
    }

    /**
     * @return array{string, string} file and pointer
     */
    private function target(string $reference, string $from): array
    {
        [$file, $pointer] = explode('#', $reference, 2) + [1 => ''];
        if ($file === '') {
            return [$from, $pointer];
        }
        $base = $from === '' ? $this->name : $from;
        $steps = [];
        foreach (explode('/', (str_contains($base, '/') ? dirname($base).'/' : '').$file) as $step) {
            if ($step === '..') {
                array_pop($steps);
            } elseif ($step !== '.' && $step !== '') {
                $steps[] = $step;
            }
        }

        return [implode('/', $steps), $pointer];
    }

    /**
     * @return array<array-key, mixed>|null
     */
    private function find(string $file, string $pointer): ?array
    {
        if ($file === $this->name && $file !== '') {
            $file = '';
        }
        if ($file === '' && $this->whole !== null && rawurldecode(explode('/', $pointer)[1] ?? '') === 'paths') {
            $this->documents[''] = ($this->whole)();
            $this->whole = null;
        }
        if (! isset($this->documents[$file])) {
            $text = $this->files->get($file);
            try {
                $this->documents[$file] = $text === null ? [] : (new Text)->read($text, $file);
            } catch (CannotDescribe) {
                $this->documents[$file] = [];
            }
        }
        $node = $this->documents[$file];
        foreach (array_filter(explode('/', $pointer), static fn (string $step): bool => $step !== '') as $step) {
            $step = strtr(rawurldecode($step), ['~1' => '/', '~0' => '~']);
            if (! is_array($node) || ! array_key_exists($step, $node)) {
                return null;
            }
            $node = $node[$step];
        }

        return is_array($node) && ($node !== [] || $pointer !== '') ? $node : null;
    }
}
