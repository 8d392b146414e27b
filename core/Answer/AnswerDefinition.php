<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

use DeepSpring\Answer\Format\Formats;
use DeepSpring\Answer\Format\Read;
use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\JsonPath\TooCostly;

final readonly class AnswerDefinition
{
    /**
     * @param  list<int>  $ok  status codes that are a success
     */
    public function __construct(
        public array $ok,
        public ?JsonPath $records,
        /** auto, or what the body is whatever it says of itself. */
        public string $format = 'auto',
        /** Where the names of columns stand, when rows are arrays. */
        public ?JsonPath $rowNames = null,
        /** Where those rows stand. */
        public ?JsonPath $rowData = null,
        /** @var array<string, array<string, mixed>> settings of formats, by their names */
        public array $formats = [],
    ) {
    }

    /**
     * @param  array<string, mixed>  $answer  valid by the schema
     * @param  list<int>  $ok  the statuses that are a success where the answer names none
     *
     * @throws InvalidJsonPath
     */
    public static function of(array $answer, array $ok = [200]): self
    {
        return new self(
            $answer['ok'] ?? $ok,
            isset($answer['records']) ? JsonPath::parse($answer['records']) : null,
            $answer['format'] ?? 'auto',
            isset($answer['rows']) ? JsonPath::parse($answer['rows']['names']) : null,
            isset($answer['rows']) ? JsonPath::parse($answer['rows']['data']) : null,
            array_intersect_key($answer, Formats::family()->kinds()),
        );
    }

    /**
     * The records of a document; without a path the whole document is one.
     *
     * @return list<mixed>
     *
     * @throws UnreadableAnswer when the path takes more than it is given
     */
    public function records(mixed $document): array
    {
        try {
            if ($this->rowNames !== null && $this->rowData !== null) {
                return self::named($this->rowNames->values($document), $this->rowData->values($document));
            }

            return $this->records === null ? [$document] : $this->records->values($document);
        } catch (TooCostly $costly) {
            throw UnreadableAnswer::beyondReading($costly->getMessage());
        }
    }

    /**
     * @param  string  $contentType  the header as it came
     *
     * @throws UnreadableAnswer
     */
    public function read(string $body, string $contentType): Read
    {
        return (new Formats($this->format, $this->formats))->read($body, $contentType);
    }

    /**
     * The records of a body; of a form that has nothing but records, those, unless something else is chosen.
     */
    public function pageOf(Read $read): RecordPage
    {
        if (! $this->isChosen() && $read->isList && is_array($read->document)) {
            $json = $read->json;

            $values = array_values($read->document);

            return $json === null ? new RecordPage($values, $read->document) : RecordPage::ofList($values, $json, $read->document);
        }

        return $this->page($read->document, $read->json);
    }

    /**
     * Whether it is said where the records are.
     */
    public function isChosen(): bool
    {
        return $this->records !== null || $this->rowNames !== null;
    }

    /**
     * The records with all that is known beside them.
     *
     * @param  string|null  $body  the JSON text of the document, where it is JSON
     *
     * @throws UnreadableAnswer where the records are not clearly one list
     */
    public function page(mixed $document, ?string $body = null): RecordPage
    {
        $source = match (true) {
            $body === null => null,
            $this->rowData !== null => fn (): Digits => new Digits($body, $this->places($document), self::names($this->rowNames?->values($document) ?? [])),
            default => fn (): Digits => new Digits($body, $this->filteredPlaces($body) ?? $this->places($document)),
        };

        $refused = [];
        $loss = $body === null ? null : DecodingLoss::of($body, $document);
        if ($body !== null && $loss?->members === true) {
            $places = $this->places($document);
            $twice = Duplicates::before($body, ($this->rowData ?? $this->records)?->head() ?? [], $places);
            $refused = $twice === null ? Duplicates::refused($body, $places) : throw UnreadableAnswer::beyondReading($twice);
        }

        return new RecordPage($this->filtered($document, $body) ?? $this->records($document), $document, $this->members($document), $source, $loss?->numbers === true, $refused);
    }

    /**
     * The records of a path with a filter, where numbers that it may compare are texts after decoding: they
     * are looked for among the digits.
     *
     * @return list<mixed>|null null where nothing speaks for that
     *
     * @throws UnreadableAnswer
     */
    private function filtered(mixed $document, ?string $body): ?array
    {
        $steps = $body === null || $this->rowData !== null ? null : $this->filteredPlaces($body);

        return $steps === null ? null : array_map(static fn (array $one): mixed => Digits::step($document, $one), $steps);
    }

    /**
     * @return list<list<string|int>>|null
     *
     * @throws UnreadableAnswer
     */
    private function filteredPlaces(string $body): ?array
    {
        if ($this->records?->filters() !== true || ! Digits::mayHoldLong($body)) {
            return null;
        }
        $digits = new Digits($body);
        try {
            return array_map(static fn (JsonNode $node): array => $node->location->steps(), $this->records->nodes($digits->written($digits->document())));
        } catch (TooCostly $costly) {
            throw UnreadableAnswer::beyondReading($costly->getMessage());
        }
    }

    /**
     * @return list<RecordPlace>
     *
     * @throws UnreadableAnswer when the path takes more than it is given
     */
    public function recordPlaces(mixed $document): array
    {
        $records = $this->records($document);
        $names = $this->rowNames === null ? null : self::names($this->rowNames->values($document));
        $places = [];
        foreach ($this->places($document) as $number => $steps) {
            $isArray = $names !== null && is_array(Digits::step($document, $steps));
            $places[] = new RecordPlace($records[$number] ?? null, $steps, $isArray ? $names : null);
        }

        return $places;
    }

    /**
     * Steps to each record.
     *
     * @return list<list<string|int>>
     */
    private function places(mixed $document): array
    {
        $path = $this->rowData ?? $this->records;

        return $path === null ? [[]] : array_map(static fn (JsonNode $node): array => $node->location->steps(), $path->nodes($document));
    }

    /**
     * The names under which records stand that are members of an object.
     *
     * @return list<string>|null
     */
    private function members(mixed $document): ?array
    {
        if ($this->records === null || ! str_ends_with($this->records->text, '.*') && ! str_ends_with($this->records->text, '[*]')) {
            return null;
        }
        $holder = JsonPath::parse(substr($this->records->text, 0, str_ends_with($this->records->text, '.*') ? -2 : -3))->values($document);

        return count($holder) === 1 && $holder[0] instanceof \stdClass ? array_map(strval(...), array_keys(get_object_vars($holder[0]))) : null;
    }

    /**
     * Rows that are arrays → objects. Values without a name get one from their place; those that are
     * missing are absent.
     *
     * @param  list<mixed>  $names
     * @param  list<mixed>  $rows
     * @return list<mixed>
     */
    private static function named(array $names, array $rows): array
    {
        $names = self::names($names);
        $records = [];
        foreach ($rows as $row) {
            if (! is_array($row)) {
                $records[] = $row;

                continue;
            }
            $record = new \stdClass;
            foreach ($row as $place => $value) {
                $record->{$names[$place] ?? 'column_'.($place + 1)} = $value;
            }
            $records[] = $record;
        }

        return $records;
    }

    /**
     * Names as they can be members: texts, each once.
     *
     * @param  list<mixed>  $names
     * @return list<string>
     */
    private static function names(array $names): array
    {
        $taken = [];
        foreach ($names as $place => $name) {
            $name = is_scalar($name) && (string) $name !== '' && ((string) $name)[0] !== "\0" ? (string) $name : 'column_'.($place + 1);
            for ($try = $name, $number = 2; isset($taken[$try]); $number++) {
                $try = "{$name}_$number";
            }
            $taken[$try] = true;
        }

        return array_map(strval(...), array_keys($taken));
    }

    /**
     * The normalized path of the record at this place among the records.
     */
    public function locate(mixed $document, int $index): string
    {
        $path = $this->rowData ?? $this->records;

        return $path === null ? '$' : ($path->nodes($document)[$index] ?? null)?->path() ?? '$';
    }
}
