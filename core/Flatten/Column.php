<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\Types;

final readonly class Column
{
    /**
     * The names to walk down, when the path is nothing but names.
     *
     * @var list<string>|null
     */
    public ?array $names;

    public bool $single;

    public function __construct(
        public string $name,
        public ColumnSource $source,
        public ?JsonPath $path,
        public string $input,
        public ColumnType $type,
        public OnBad $onBad,
        public Many $many,
        public string $with,
        public bool $inKey,
    ) {
        $this->names = $path?->names();
        $this->single = $path === null || $path->isSingular();
    }

    /**
     * @param  array<string, mixed>  $column  valid by the schema
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     */
    public static function of(array $column, bool $inKey): self
    {
        $source = match (true) {
            isset($column['parent']) => ColumnSource::Parent,
            isset($column['position']) => ColumnSource::Position,
            isset($column['input']) => ColumnSource::Input,
            default => ColumnSource::From,
        };
        if ($source === ColumnSource::Position) {
            $column['type'] = 'integer';
        } elseif (! isset($column['type']) && isset($column['from']) && ! JsonPath::parse($column['from'])->isSingular()) {
            $column['type'] = match ($column['many'] ?? 'json') {
                'json' => 'json', 'count' => 'integer', default => 'text',
            };
        }

        return new self(
            $column['name'],
            $source,
            match ($source) {
                ColumnSource::From => JsonPath::parse($column['from'] ?? '$'),
                ColumnSource::Parent => JsonPath::parse($column['parent']),
                default => null,
            },
            $column['input'] ?? '',
            Types::of($column, $inKey),
            OnBad::from($column['on_bad'] ?? 'reject-value'),
            Many::from($column['many'] ?? 'json'),
            $column['with'] ?? ', ',
            $inKey,
        );
    }

    public function origin(): string
    {
        return match ($this->source) {
            ColumnSource::Position => 'its position',
            ColumnSource::Input => "the input {$this->input}",
            ColumnSource::Parent => 'parent '.$this->path,
            ColumnSource::From => (string) $this->path,
        };
    }
}
