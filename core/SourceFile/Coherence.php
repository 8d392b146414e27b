<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Access\Variables;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\RowInputs;
use DeepSpring\Flatten\Plan;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\Windows;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\NearestName;
use DeepSpring\Value\SafeNames;

/**
 * What must fit together in a document that the schema accepts: paths that parse, names that
 * exist, names that occur once.
 */
final class Coherence
{
    /** Windows that reach up to the present are counted as of this day: whether a file is right does not depend on when it is looked at. */
    public const COUNTED_AS_OF = '2031-01-01T00:00:00Z';

    /** @var list<Fault> */
    private array $faults = [];

    private readonly PathFaults $paths;

    /** @var array<string, true> tables without a fault, by all that counts */
    private array $right = [];

    /**
     * @param  array<string, mixed>  $document
     * @param  list<int|string>  $known  numbers of endpoints that are known to be right in themselves
     */
    public function __construct(private readonly array $document, private readonly array $known = [])
    {
        $this->paths = new PathFaults;
    }

    /**
     * @return list<Fault>
     */
    public function faults(): array
    {
        $this->faults = [];
        [$slugs, $tables] = [[], []];
        $known = array_fill_keys($this->known, true);
        $change = new ChangeCoherence($this->document, $this->fault(...), $this->paths);
        $keep = new KeepCoherence($this->document['source'], $this->paths, $this->fault(...), $this->isSound(...));
        foreach ($this->document['endpoints'] ?? [] as $number => $endpoint) {
            $at = "endpoints[$number]";
            if (isset($slugs[$endpoint['slug']])) {
                $this->fault("$at.slug", "\"{$endpoint['slug']}\" is the slug of endpoints[{$slugs[$endpoint['slug']]}] already.");
            }
            $slugs[$endpoint['slug']] = $number;
            $change->endpoint($endpoint, $at);
            if (isset($known[$number])) {
                foreach (isset($endpoint['flatten']) ? Plan::tablesIn($endpoint['flatten']) : [] as $table) {
                    $this->table($table['table'], "$at.flatten", $tables);
                }

                continue;
            }
            $this->ask($endpoint['ask'], "$at.ask");
            $this->answer($endpoint['answer'] ?? [], "$at.answer");
            $this->onward($endpoint['onward'] ?? [], $endpoint['ask'], "$at.onward");
            if (isset($endpoint['flatten'])) {
                $this->flatten($endpoint, $at, $tables);
            }
            $keep->endpoint($endpoint, "$at.keep");
        }
        $this->access();
        $test = $this->document['source']['test']['endpoint'] ?? null;
        if ($test !== null && ! isset($slugs[$test])) {
            $this->fault('source.test.endpoint', "There is no endpoint \"$test\".");
        } elseif ($test !== null && (new EndpointDefinition($this->document['endpoints'][$slugs[$test]]))->does()->writes()) {
            $this->fault('source.test.endpoint', "\"$test\" writes. A source is tested by what reads.");
        }

        return $this->faults;
    }

    /**
     * Paths of sign-ins, and variables that no environment has.
     */
    private function access(): void
    {
        $source = $this->document['source'];
        foreach ($source['access'] ?? [] as $number => $entry) {
            $this->path($entry['take']['json'] ?? null, "source.access[$number].take.json");
        }
        $known = [];
        foreach ($source['environments'] as $environment) {
            array_push($known, ...array_map(strval(...), array_keys($environment['variables'] ?? [])));
        }
        foreach (['access', 'headers', 'query'] as $part) {
            foreach ($source[$part] ?? [] as $name => $entry) {
                foreach (array_diff(Variables::names($entry), $known) as $variable) {
                    $this->fault("source.$part".(is_int($name) ? "[$name]" : ".$name"), "The variable \"$variable\" has a value in no environment.");
                }
            }
        }
    }

    /**
     * @param  array<string, mixed>  $ask
     */
    private function ask(array $ask, string $at): void
    {
        $inPath = [];
        $seen = [];
        foreach ($ask['inputs'] ?? [] as $number => $input) {
            if (isset($seen[$input['name']])) {
                $this->fault("$at.inputs[$number].name", "There are two inputs named \"{$input['name']}\".");
            }
            $seen[$input['name']] = true;
            if (isset($input['with']) && ($input['in'] !== 'path' || ($input['many'] ?? '') !== 'comma')) {
                $this->fault("$at.inputs[$number].with", 'This is for several values in a path, which many: comma says.');
            }
            if ($input['in'] === 'path') {
                $inPath[$input['name']] = $number;
            }
            $sent = $input['send_as'] ?? $input['name'];
            if (in_array($input['in'], ['header', 'cookie'], true) && preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $sent) !== 1) {
                $this->fault("$at.inputs[$number].".(isset($input['send_as']) ? 'send_as' : 'name'), "\"$sent\" cannot be the name of a {$input['in']}.");
            }
        }
        preg_match_all('/\{([^{}]*)\}/', $ask['path'], $found);
        foreach (array_unique($found[1]) as $name) {
            if (! isset($inPath[$name])) {
                $this->fault("$at.path", "The path holds {{$name}}, but no input of that name goes in the path.");
            }
            unset($inPath[$name]);
        }
        foreach ($inPath as $name => $number) {
            $this->fault("$at.inputs[$number]", "The input \"$name\" goes in the path, but the path has no {{$name}}.");
        }
        $this->body($ask, $at);
    }

    /**
     * @param  array<string, mixed>  $onward
     * @param  array<string, mixed>  $ask
     */
    private function onward(array $onward, array $ask, string $at): void
    {
        foreach (['next', 'from_last', 'more', 'link', 'list', 'value'] as $name) {
            $this->path($onward[$name] ?? null, "$at.$name");
        }
        foreach (['total', 'pages'] as $name) {
            $this->path(str_starts_with($onward[$name] ?? '', '$') ? $onward[$name] : null, "$at.$name");
        }
        foreach ($onward['take'] ?? [] as $name => $path) {
            $this->path($path, "$at.take.$name");
        }
        $style = $onward['style'] ?? 'none';
        if ($style !== 'range' && isset($onward['size']) !== isset($onward['size_as'])) {
            $this->fault($at, 'size and size_as go together: how many, and under which name it is sent.');
        }
        if ($style === 'cursor' && isset($onward['next']) === isset($onward['from_last'])) {
            $this->fault("$at.next", isset($onward['next']) ? 'The cursor is found either at next, in the answer, or at from_last, in the last record; not at both.' : 'Say where the cursor is found: next, in the answer, or from_last, in the last record.');
        }
        if (($onward['in'] ?? 'query') === 'header' && preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $onward['send_as']) !== 1) {
            $this->fault("$at.send_as", "\"{$onward['send_as']}\" cannot be the name of a header.");
        }
        if (($onward['in'] ?? 'query') === 'body' && isset($ask['body']) && Bodies::writtenAs($ask['body']) === FieldType::Template) {
            $this->fault("$at.in", 'What goes on in the body needs a body that is JSON or a form.');
        }
        if (($onward['in'] ?? 'query') === 'body' && in_array($ask['method'] ?? 'GET', ['GET', 'HEAD'], true) && ! isset($onward['method'])) {
            $this->fault("$at.in", ($ask['method'] ?? 'GET').' carries no body.');
        }
        match ($style) {
            'partition' => $this->partition($onward, $at),
            'window' => $this->window($onward, $ask, $at),
            default => null,
        };
    }

    /**
     * @param  array<string, mixed>  $onward
     */
    private function partition(array $onward, string $at): void
    {
        preg_match_all('/\{([^{}]*)\}/', $onward['path'] ?? '', $found);
        $known = [...array_map(strval(...), array_keys($onward['take'] ?? [])), ...(($onward['in'] ?? 'query') === 'path' ? [$onward['send_as']] : [])];
        foreach (array_diff($found[1], $known) as $name) {
            $this->fault("$at.path", "Nothing says what stands for {{$name}}: name it under take, with the path where the first answer holds it.");
        }
        if (($onward['in'] ?? 'query') === 'path' && ! in_array($onward['send_as'], $found[1], true)) {
            $this->fault("$at.path", "A part that goes in the path needs a path with {{$onward['send_as']}} in it.");
        }
    }

    /**
     * @param  array<string, mixed>  $onward
     * @param  array<string, mixed>  $ask
     */
    private function window(array $onward, array $ask, string $at): void
    {
        try {
            $count = OnwardDefinition::of($onward)->pager(new \DateTimeImmutable(self::COUNTED_AS_OF));
            $windows = $count instanceof Windows ? $count->count() : 0;
        } catch (\Exception) {
            $this->fault("$at.start", 'There is no such day.');

            return;
        }
        // Whether a file is right does not depend on the day it is looked at.
        $isOfToday = ! isset($onward['end']) || ! preg_match('/^\d/', $onward['end']) || ! preg_match('/^\d/', $onward['start']);
        if ($windows === 0 && ! $isOfToday) {
            $this->fault("$at.end", 'The end lies before the start, so there is no window.');
        } elseif ($windows >= 100_000) {
            $this->fault("$at.step", 'These would be 100 000 windows or more. Take a longer step.');
        }
        if (isset($onward['inner'])) {
            if (in_array($onward['inner']['style'], ['window', 'partition', 'range', 'none'], true)) {
                $this->fault("$at.inner.style", 'Inside a window, paging is by page, offset, cursor, link or Link header.');
            } else {
                $this->onward($onward['inner'], $ask, "$at.inner");
            }
        }
    }

    /**
     * @param  array<string, mixed>  $ask
     */
    private function body(array $ask, string $at): void
    {
        $body = isset($ask['body']) ? Bodies::of($ask['body']) : null;
        $used = $body?->inputs() ?? [];
        $names = array_column($ask['inputs'] ?? [], 'name');
        foreach ($body?->faults() ?? [] as $place => $sentence) {
            $this->fault("$at.body.$place", $sentence);
        }
        foreach (array_diff($used, $names) as $name) {
            $this->fault("$at.body", "The body names the input \"$name\", which this endpoint does not have".(NearestName::to($name, $names) === null ? '.' : '; "'.NearestName::to($name, $names).'" was probably meant.'));
        }
        foreach ($ask['inputs'] ?? [] as $number => $input) {
            if ($input['in'] === 'body' && ! in_array($input['name'], $used, true)) {
                $this->fault("$at.inputs[$number]", "The input \"{$input['name']}\" goes in the body, but ".($body === null ? 'there is no body.' : 'the body does not name it.'));
            }
            if ($input['in'] === 'cookie' && preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $input['name']) !== 1) {
                $this->fault("$at.inputs[$number].name", "\"{$input['name']}\" cannot be the name of a cookie.");
            }
        }
        if ($body !== null && ($ask['method'] ?? 'GET') === 'HEAD') {
            $this->fault("$at.body", 'HEAD asks for headers alone; it carries no body.');
        }
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    private function answer(array $answer, string $at): void
    {
        $this->path($answer['records'] ?? null, "$at.records");
        $this->path($answer['rows']['names'] ?? null, "$at.rows.names");
        $this->path($answer['rows']['data'] ?? null, "$at.rows.data");
        if (isset($answer['records'], $answer['rows'])) {
            $this->fault("$at.rows", 'Either records says where the records are, or rows says where names and rows are; not both.');
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, string>  $tables
     */
    private function flatten(array $endpoint, string $at, array &$tables): void
    {
        $inputs = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        $hasRows = array_filter($endpoint['keep']['inputs'] ?? [], RowInputs::isOne(...)) !== [];
        $check = new FlattenCoherence($inputs, $this->paths, $this->fault(...), $hasRows);
        $check->standing($endpoint['ask']['inputs'] ?? [], $endpoint['flatten'], "$at.ask.inputs");
        foreach (Plan::tablesIn($endpoint['flatten']) as $where => $table) {
            $place = $where === '' ? "$at.flatten" : "$at.flatten.$where";
            $this->path($table['from'] ?? null, "$place.from");
            $this->table($table['table'], $place, $tables);
            // Large files make the same columns of many endpoints: what was right once is not looked at again.
            $same = hash('xxh128', serialize([array_diff_key($table, ['table' => 1, 'branches' => 1]), substr_count($where, 'branches['), $inputs, $hasRows]));
            if (! isset($this->right[$same])) {
                $before = count($this->faults);
                $check->table($table, $place, substr_count($where, 'branches['));
                count($this->faults) > $before || $this->right[$same] = true;
            }
        }
    }

    /**
     * @param  array<string, string>  $tables
     */
    private function table(string $name, string $place, array &$tables): void
    {
        $safe = SafeNames::clean($name);
        if (isset($tables[$safe])) {
            $this->fault("$place.table", "\"$name\" is made by {$tables[$safe]} already.");
        }
        $tables[$safe] = $place;
    }

    private function path(?string $path, string $at): void
    {
        $fault = $path === null ? null : $this->paths->of($path);
        if ($fault !== null) {
            $this->fault($at, $fault);
        }
    }

    private function isSound(): bool
    {
        return $this->faults === [];
    }

    private function fault(string $path, string $message): void
    {
        $this->faults[] = new Fault($path, $message);
    }
}
