<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

use DeepSpring\OData\EdmValue;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\InvalidLiteral;
use DeepSpring\Value\JsonText;

/**
 * One thing that varies in a request, or is fixed in it.
 */
final readonly class Input
{
    /** Given in place of a value, says that there shall be none: null in a JSON body, nothing in one of another kind. */
    public const NOTHING = "\0nothing";

    /** Given in place of a value, says that it shall be an empty text; one that is merely empty is not given. */
    public const EMPTY = "\0empty";

    /**
     * @param  list<string>|null  $fixed
     * @param  list<string>|null  $try
     * @param  list<string>|null  $default
     * @param  list<string>|null  $choices
     */
    public function __construct(
        public string $name,
        public Place $in,
        public InputType $type,
        public bool $required,
        public ?array $fixed,
        public ?array $try,
        public ?array $default,
        public ?array $choices,
        public ?ListStyle $many,
        /** Whether it is sent with an empty value when nobody gives one. */
        public bool $sendEmpty,
        /** Never offered to those who only use the endpoint. */
        public bool $private = false,
        public string $about = '',
        /** What parts several values in a path, instead of a comma; sent as it stands. */
        public ?string $with = null,
        /** How a service that speaks OData wants its values written. */
        public ?EdmValue $edm = null,
        /** The name that it has in the request, where that is another: names of inputs occur once. */
        public ?string $sendAs = null,
        /** Whether an empty value is sent as the name alone, without "=". */
        public bool $isBare = false,
        /** The part of a query that it can say. */
        public ?StandsFor $standsFor = null,
    ) {
    }

    /**
     * The name that it has in the request.
     */
    public function wireName(): string
    {
        return $this->sendAs ?? $this->name;
    }

    /**
     * @param  array<string, mixed>  $input  valid by the schema
     */
    public static function of(array $input): self
    {
        return new self(
            $input['name'],
            Place::from($input['in']),
            InputType::from($input['type'] ?? 'text'),
            $input['required'] ?? ($input['in'] === 'path'),
            self::texts($input['fixed'] ?? null),
            self::texts($input['try'] ?? null),
            self::texts($input['default'] ?? null),
            self::texts($input['choices'] ?? null),
            isset($input['many']) ? ListStyle::from($input['many']) : null,
            ($input['send_empty'] ?? false) !== false,
            $input['private'] ?? false,
            $input['about'] ?? '',
            $input['with'] ?? null,
            isset($input['edm']) ? new EdmValue($input['edm']['type'], ODataVersion::from($input['edm']['version'])) : null,
            $input['send_as'] ?? null,
            ($input['send_empty'] ?? false) === 'bare',
            isset($input['stands_for']) ? StandsFor::of($input['stands_for']) : null,
        );
    }

    /**
     * What is sent: the fixed values, the given ones, or the default; none when there are none.
     *
     * @param  list<string>|null  $given
     * @return list<string>
     */
    public function chosen(?array $given): array
    {
        $given = $given === [] || $given === [''] ? null : $given;

        return $this->fixed ?? $given ?? $this->default ?? ($this->sendEmpty && ! $this->required && $this->type === InputType::Text ? [''] : []);
    }

    /**
     * Why these values cannot be sent; null when they can. Whether one is needed at all is not asked here.
     *
     * @param  list<string>  $values  as `chosen` gives them
     */
    public function fault(array $values): ?string
    {
        if ($this->many === null && count($values) > 1) {
            return 'takes one value; to send several, say how they are joined';
        }
        foreach (in_array($values, [[self::NOTHING], [self::EMPTY]], true) && $this->in === Place::Body ? [] : $values as $value) {
            $fault = ($value === self::NOTHING || $value === self::EMPTY ? 'can be emptied only where it stands in a body' : null) ?? ($value === '' && $this->sendEmpty ? null : $this->type->fault($value))
                ?? ($this->choices !== null && ! in_array($value, $this->choices, true) ? "\"$value\" is none of ".implode(', ', $this->choices) : null)
                ?? $this->edmFault($value)
                ?? ($this->in === Place::Path && $this->edm === null && in_array($value, ['', '.', '..'], true) ? "\"$value\" cannot stand in a path, where it would mean another address" : null)
                ?? ($this->in === Place::Header && preg_match('/[\x00-\x08\x0a-\x1f\x7f]/', $value) === 1 ? 'a header value cannot hold a line break' : null)
                ?? ($this->in === Place::Cookie && preg_match('/[\x00-\x1f\x3b\x7f]/', $value) === 1 ? 'a cookie cannot hold semicolons or line breaks' : null)
                ?? ($this->many !== null && $this->isJoined() && str_contains($value, $this->many->joined(['', ''])) ? "\"$value\" holds the separator of the values" : null);
            if ($fault !== null) {
                return $fault;
            }
        }

        return null;
    }

    /**
     * Values as they go into an address.
     *
     * @param  list<string>  $values
     * @return list<string>
     */
    public function written(array $values): array
    {
        return $this->edm === null || in_array($this->in, [Place::Body, Place::Header, Place::Cookie], true) ? $values : array_map($this->edm->literal(...), $values);
    }

    /**
     * A value as a JSON document holds it.
     */
    public function json(string $value): JsonText|string|bool|null
    {
        return $value === self::NOTHING ? null : ($value === self::EMPTY ? '' : null) ?? $this->edm?->json($value) ?? $this->type->json($value);
    }

    private function edmFault(string $value): ?string
    {
        try {
            $this->in === Place::Body ? $this->edm?->json($value) : $this->edm?->literal($value);

            return null;
        } catch (InvalidLiteral $invalid) {
            return rtrim(lcfirst($invalid->getMessage()), '.');
        }
    }

    /**
     * Whether several values end up in one text, in which they can only be told apart by what parts them.
     */
    private function isJoined(): bool
    {
        return match ($this->in) {
            Place::Header, Place::Cookie => $this->many !== ListStyle::Repeat,
            Place::Path, Place::Query => in_array($this->many, [ListStyle::Pipe, ListStyle::Space], true),
            Place::Body => false,
        };
    }

    /**
     * @return list<string>|null
     */
    private static function texts(mixed $value): ?array
    {
        if ($value === null) {
            return null;
        }

        return array_map(self::text(...), is_array($value) ? array_values($value) : [$value]);
    }

    /**
     * A value of a source file as somebody would type it.
     */
    public static function text(mixed $value): string
    {
        return match (true) {
            is_bool($value) => $value ? 'true' : 'false',
            is_float($value) => (string) json_encode($value),
            default => (string) $value,
        };
    }
}
