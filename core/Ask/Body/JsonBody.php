<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\Template;
use DeepSpring\Value\JsonText;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A JSON document with inputs in it. It is built as a tree and encoded as a whole, so that no value
 * can break it.
 */
final readonly class JsonBody implements Body
{
    /**
     * @param  mixed  $tree  `stdClass`, lists, scalars, null
     * @param  bool  $keepEmpty  send null for an absent input, and objects without members
     * @param  list<string>  $optional  objects that may be left out whole, like `$.insurance`
     * @param  string|null  $each  a list whose one item is written once for each of several records, like `$.changes`
     */
    public function __construct(private mixed $tree, private bool $keepEmpty = false, private array $optional = [], public ?string $each = null)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('json', 'JSON', 'A JSON document, built as a tree, so that no value can break it.', [
            new Field('of', FieldType::Tree, 'document', '`{"input": "due"}` stands for an input, `{"text": "Loan to {borrower}"}` for a text with inputs in it, `{"literal": …}` for just what it holds.', isRequired: true),
            new Field('optional', FieldType::Objects, 'May be left out whole', 'Objects that are not sent when none of their inputs is filled.', example: '$.insurance'),
            new Field('each', FieldType::Path, 'list of several records', 'A list with one item, which is written once for each record where several are sent together.', example: '$.changes'),
            new Field('keep_empty', FieldType::Flag, 'send null for what is empty, instead of leaving it out', 'Whether null and empty objects are sent.', default: false),
        ]);
    }

    public static function of(array $body): self
    {
        return new self($body['of'] ?? null, $body['keep_empty'] ?? false, array_values($body['optional'] ?? []), $body['each'] ?? null);
    }

    public function encode(InputValues $values): Encoded
    {
        return $this->encodeAll($values, [$values]);
    }

    /**
     * Several records in one body.
     *
     * @param  InputValues  $values  of all that stands outside of the list
     * @param  list<InputValues>  $records  of each item of it
     *
     * @throws InvalidInput
     */
    public function encodeAll(InputValues $values, array $records): Encoded
    {
        $built = $this->build($this->tree, $values, '$', $records);
        $built = $built === Absent::It ? ($this->tree instanceof \stdClass && BodyNode::of($this->tree)->kind === null ? new \stdClass : null) : $built;
        try {
            return new Encoded('application/json', JsonText::encode($built));
        } catch (\JsonException $fault) {
            throw InvalidInput::because('body', 'it cannot be written as JSON: '.lcfirst($fault->getMessage()));
        }
    }

    public function inputs(): array
    {
        $names = [];
        self::walk($this->tree, '$', static function (BodyNode $node) use (&$names): void {
            array_push($names, ...$node->names());
        });

        return array_values(array_unique($names));
    }

    public function faults(): array
    {
        $faults = [];
        $objects = [];
        self::walk($this->tree, '$', static function (BodyNode $node, string $path) use (&$faults, &$objects): void {
            $place = self::place($path);
            if ($node->kind === 'text' && (new Template($node->value))->strayBrace() !== null) {
                $faults[$place] = 'A brace stands alone at character '.(new Template($node->value))->strayBrace().'; a literal brace is doubled.';
            }
            if ($node->kind === null && BodyNode::isDoubtful($node->value)) {
                $faults[$place] = 'An object with the one member "input" or "text" stands for an input, whose name is a text. To send such an object, write {"literal": …} around it.';
            }
            $objects[] = $path;
        });
        foreach ($this->optional as $number => $path) {
            if (! in_array($path, $objects, true)) {
                $faults["optional[$number]"] = "The body has nothing at $path.";
            }
        }
        if ($this->each !== null && (! in_array("{$this->each}[0]", $objects, true) || in_array("{$this->each}[1]", $objects, true))) {
            $faults['each'] = "The body has no list with just one item at {$this->each}.";
        }

        return $faults;
    }

    /**
     * Inputs of one record, where several can be sent together.
     *
     * @return list<string>
     */
    public function inputsOfEach(): array
    {
        return $this->each === null ? [] : $this->inside($this->each);
    }

    public function excused(array $filled): array
    {
        $excused = [];
        foreach ($this->optional as $path) {
            $inside = $this->inside($path);
            if (array_intersect($inside, $filled) === []) {
                array_push($excused, ...array_diff($inside, $this->outside($path)));
            }
        }

        return array_values(array_unique($excused));
    }

    public function demanded(string $input, array $filled): ?string
    {
        foreach ($this->optional as $path) {
            $inside = $this->inside($path);
            $because = array_values(array_intersect($inside, $filled));
            if (in_array($input, $inside, true) && $because !== []) {
                $name = substr((string) strrchr($path, '.'), 1) ?: $path;

                return "$name is sent, since ".implode(' and ', array_map(static fn (string $one): string => "\"$one\"", $because)).' is filled, and it needs this as well; fill it, or empty all of '.$name;
            }
        }

        return null;
    }

    public function with(array $members): self
    {
        $tree = $this->tree instanceof \stdClass ? clone $this->tree : new \stdClass;
        foreach ($members as $name => $value) {
            $steps = explode('.', (string) $name);
            $last = array_pop($steps);
            $at = $tree;
            foreach ($steps as $step) {
                // Objects on the way are copied: the tree belongs to the source file.
                $at->{$step} = ($at->{$step} ?? null) instanceof \stdClass ? clone $at->{$step} : new \stdClass;
                $at = $at->{$step};
            }
            $at->{$last} = $value;
        }

        return new self($tree, $this->keepEmpty, $this->optional, $this->each);
    }

    /**
     * @param  list<InputValues>  $records
     */
    private function build(mixed $raw, InputValues $values, string $path, array $records = []): mixed
    {
        $node = BodyNode::of($raw);
        if ($node->kind === 'literal') {
            return $node->value;
        }
        if ($node->kind === 'input') {
            return $values->isGiven($node->value) ? $values->json($node->value) : ($this->keepEmpty ? null : Absent::It);
        }
        if ($node->kind === 'text') {
            $template = new Template($node->value);
            $isEmpty = $template->names() !== [] && array_filter($template->names(), $values->isGiven(...)) === [];

            return $isEmpty ? ($this->keepEmpty ? null : Absent::It) : $template->fill($values->text(...));
        }
        if ($raw instanceof \stdClass) {
            return $this->object($raw, $values, $path, $records);
        }
        if (! is_array($raw)) {
            return $raw;
        }
        $built = $path === $this->each && $records !== [] && isset($raw[0])
            ? array_map(fn (InputValues $record): mixed => $this->build($raw[0], $record, "{$path}[0]"), $records)
            : array_map(fn (mixed $one, int $at): mixed => $this->build($one, $values, "{$path}[$at]", $records), $raw, array_keys($raw));

        return array_values(array_filter($built, static fn (mixed $one): bool => $one !== Absent::It));
    }

    /**
     * @param  list<InputValues>  $records
     */
    private function object(\stdClass $raw, InputValues $values, string $path, array $records): \stdClass|Absent|null
    {
        // One of which nothing shall be left goes as a whole.
        if (in_array($path, $this->optional, true) && array_filter($this->inside($path), $values->isFilled(...)) === [] && array_filter($this->inside($path), $values->isNothing(...)) !== []) {
            return null;
        }
        if (in_array($path, $this->optional, true) && ! $this->keepEmpty && array_filter($this->inside($path), $values->isFilled(...)) === []) {
            return Absent::It;
        }
        $built = new \stdClass;
        foreach (get_object_vars($raw) as $name => $member) {
            $one = $this->build($member, $values, self::step($path, (string) $name), $records);
            if ($one !== Absent::It) {
                $built->{$name} = $one;
            }
        }

        // One that was written empty is meant to be sent empty.
        return ! $this->keepEmpty && get_object_vars($built) === [] && get_object_vars($raw) !== [] ? Absent::It : $built;
    }

    /**
     * Inputs inside the object at a path.
     *
     * @return list<string>
     */
    private function inside(string $path): array
    {
        return $this->used(static fn (string $one): bool => $one === $path || str_starts_with($one, "$path.") || str_starts_with($one, "{$path}["));
    }

    /**
     * @return list<string>
     */
    private function outside(string $path): array
    {
        return $this->used(static fn (string $one): bool => ! ($one === $path || str_starts_with($one, "$path.") || str_starts_with($one, "{$path}[")));
    }

    /**
     * @param  \Closure(string): bool  $where
     * @return list<string>
     */
    private function used(\Closure $where): array
    {
        $names = [];
        self::walk($this->tree, '$', static function (BodyNode $node, string $path) use (&$names, $where): void {
            if ($node->kind !== null && $where($path)) {
                array_push($names, ...$node->names());
            }
        });

        return array_values(array_unique($names));
    }

    /**
     * @param  \Closure(BodyNode, string): void  $visit
     */
    private static function walk(mixed $raw, string $path, \Closure $visit): void
    {
        $node = BodyNode::of($raw);
        $visit($node, $path);
        if ($node->kind !== null) {
            return;
        }
        foreach ($raw instanceof \stdClass ? get_object_vars($raw) : [] as $name => $member) {
            self::walk($member, self::step($path, (string) $name), $visit);
        }
        foreach (is_array($raw) ? $raw : [] as $at => $member) {
            self::walk($member, "{$path}[$at]", $visit);
        }
    }

    private static function step(string $path, string $name): string
    {
        return preg_match('/^[A-Za-z_]\w*$/D', $name) === 1 ? "$path.$name" : $path.'['.json_encode($name, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE).']';
    }

    private static function place(string $path): string
    {
        return 'of'.substr($path, 1);
    }
}
