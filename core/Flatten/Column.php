<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Expression\Expression;
use DeepSpring\Expression\Scope;
use DeepSpring\Flatten\Mask\ColumnMask;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\TextType;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Value\Moment\UnusablePattern;

final readonly class Column
{
    /**
     * The names to walk down, when the path is nothing but names.
     *
     * @var list<string>|null
     */
    public ?array $names;

    public bool $single;

    /** What the database holds: that of the values, or the text they are masked by. */
    public ColumnType $kept;

    public function __construct(
        public string $name,
        public ColumnSource $source,
        public ?JsonPath $path,
        public string $input,
        public ColumnType $type,
        public OnBad $onBad,
        public ManyValues $many,
        public string $with,
        public bool $inKey,
        /** Of a branch of a branch: how many levels further up the parent, or the position, is. */
        public int $up = 0,
        public ?Expression $expression = null,
        public ColumnMask $mask = ColumnMask::None,
        public string $comment = '',
        public string $title = '',
        public string $unit = '',
    ) {
        $this->names = $path?->names();
        $this->single = $path === null || $path->isSingular();
        $this->kept = $mask === ColumnMask::None ? $type : new TextType($inKey ? Types::KEY_LENGTH : null);
    }

    /**
     * @param  array<string, mixed>  $column  valid by the schema
     * @param  list<self>  $before  columns of the same table that stand above
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     * @throws \DeepSpring\Expression\InvalidExpression
     * @throws UnusablePattern
     */
    public static function of(array $column, bool $inKey, array $before = [], ?\DateTimeImmutable $now = null): self
    {
        $source = ColumnSource::of($column);
        $path = match ($source) {
            ColumnSource::From => JsonPath::parse($column['from'] ?? '$'),
            ColumnSource::Parent => JsonPath::parse($column['parent']),
            ColumnSource::Envelope => JsonPath::parse($column['envelope']),
            default => null,
        };
        $expression = $source === ColumnSource::Compute ? Expression::of($column['compute'], self::scope($before), $now) : null;
        if ($source === ColumnSource::Position) {
            $column['type'] = 'integer';
        } elseif ($expression !== null) {
            $column['type'] ??= $expression->kind()->columnType();
        } elseif (! isset($column['type']) && $path?->isSingular() === false) {
            $column['type'] = match ($column['many'] ?? 'json') {
                'json' => 'json', 'count' => 'integer', default => 'text',
            };
        }

        return new self(
            $column['name'],
            $source,
            $path,
            $column['input'] ?? $column['row'] ?? '',
            Types::of($column, $inKey),
            OnBad::from($column['on_bad'] ?? 'reject-value'),
            ManyValues::from($column['many'] ?? 'json'),
            $column['with'] ?? ', ',
            $inKey,
            $column['up'] ?? 0,
            $expression,
            ColumnMask::from($column['mask'] ?? 'none'),
            $column['comment'] ?? '',
            $column['title'] ?? '',
            $column['unit'] ?? '',
        );
    }

    /**
     * What an expression below these columns can name.
     *
     * @param  list<self>  $columns
     */
    public static function scope(array $columns): Scope
    {
        return new Scope(array_map(static fn (self $column): array => [$column->name, $column->kept->name()], $columns));
    }

    public function isPlain(): bool
    {
        return $this->mask === ColumnMask::None;
    }

    public function origin(): string
    {
        $up = $this->up > 0 ? " {$this->up} further up" : '';

        return match ($this->source) {
            ColumnSource::Position => "its position$up",
            ColumnSource::Input => "the input {$this->input}",
            ColumnSource::Row => "{$this->input} of the row",
            ColumnSource::Parent => "parent {$this->path}$up",
            ColumnSource::Envelope => "envelope {$this->path}",
            ColumnSource::Member => 'the name of its member',
            ColumnSource::Compute => '= '.$this->expression?->text,
            ColumnSource::From => (string) $this->path,
        };
    }
}
