<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Stream;

use DeepSpring\Answer\Duplicates;
use DeepSpring\Answer\Format\BadRecord;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Answer\UnreadableAnswer;

/**
 * The elements of one array of a JSON text, in batches, from chunks of it. The path to the array is
 * made of names only: `$[*]`, `$.data[*]`, `$.result.loans[*]`.
 */
final class JsonRecords
{
    /** Bytes of records that are decoded together. */
    private const BATCH = 1_000_000;

    /** Bytes that one record may have. */
    private const RECORD = 64_000_000;

    /** Bytes around the records. */
    private const AROUND = 16_000_000;

    private const STRING = '"(?:[^"\\\\]++|\\\\.)*+"';

    private const SCALAR = '[^"{}\[\],:\s]++';

    /** What was read and not worked on yet. */
    private string $buffer = '';

    private bool $isEnd = false;

    /** What stands around the records, with an empty array in their place. */
    private string $around = '';

    /** Records so far. */
    public int $count = 0;

    /** @var list<BadRecord> elements that are no JSON; taken by whoever reads, with each batch */
    public array $bad = [];

    /** Bytes asked for next; more when a record is longer than what is there. */
    private int $wanted = self::BATCH;

    /**
     * @param  \Closure(int): string  $read  gives so many bytes at most; none at the end
     * @param  list<string>  $names  from the root to the array
     */
    private function __construct(private readonly \Closure $read, private readonly array $names)
    {
    }

    /**
     * @param  \Closure(int): string  $read
     * @return self|null null when the path cannot be followed in a stream
     */
    public static function of(\Closure $read, ?JsonPath $records): ?self
    {
        $text = $records->text ?? '';
        $array = str_ends_with($text, '[*]') ? JsonPath::parse(substr($text, 0, -3))->names() : null;

        return $array === null ? null : new self($read, $array);
    }

    /**
     * @return \Generator<int, RecordPage>
     *
     * @throws UnreadableAnswer when the text is no JSON, or has no array there
     */
    public function batches(): \Generator
    {
        $this->seek();
        $item = self::item();
        // Complete elements with what follows each; the last one is surely complete only then.
        $run = "/\\G(?:\\s*+$item\\s*+,)++/s";
        $last = "/\\G\\s*+(?:($item)\\s*+)?\\]/s";
        $this->wanted = self::BATCH;
        for (; ;) {
            $found = preg_match($run, $this->buffer, $part);
            if ($found === 1) {
                $text = $part[0];
                $this->buffer = substr($this->buffer, strlen($text));
                unset($part);
                yield $this->records(substr(rtrim($text), 0, -1));
                $this->wanted = self::BATCH;
            } elseif (preg_match($last, $this->buffer, $part) === 1) {
                $this->buffer = substr($this->buffer, strlen($part[0]));
                if (($part[1] ?? '') !== '') {
                    yield $this->records($part[1]);
                }
                break;
            } elseif (preg_last_error() !== PREG_NO_ERROR) {
                throw UnreadableAnswer::beyondReading('record '.($this->count + 1).' is nested too deeply');
            } elseif ($this->isEnd) {
                throw $this->broken();
            } elseif (strlen($this->buffer) > self::RECORD) {
                throw UnreadableAnswer::beyondReading('record '.($this->count + 1).' is longer than '.intdiv(self::RECORD, 1_000_000).' MB');
            }
            if (strlen($this->buffer) < self::BATCH || $found !== 1) {
                $this->fill();
            }
        }
        $this->rest();
    }

    /**
     * What is around the records; complete once all batches were taken.
     */
    public function envelope(): mixed
    {
        return JsonDecoder::decode($this->around);
    }

    /**
     * The JSON text of that.
     */
    public function around(): string
    {
        return $this->around;
    }

    private function records(string $text): RecordPage
    {
        $json = "[$text]";
        $values = json_decode($json, false, JsonDecoder::DEPTH, JSON_BIGINT_AS_STRING);
        if (is_array($values)) {
            $this->count += count($values);

            return RecordPage::ofList(array_values($values), $json);
        }
        // One of them is no JSON: each by itself, so that only that one is lost.
        $good = [];
        $item = self::item();
        for ($at = 0; preg_match("/\\G\\s*+($item)\\s*+,?/s", $text, $part, 0, $at) === 1 && $part[0] !== ''; $at += strlen($part[0])) {
            $this->count++;
            try {
                JsonDecoder::decode($part[1]);
                $good[] = $part[1];
            } catch (UnreadableAnswer $unreadable) {
                $this->bad[] = BadRecord::of("record {$this->count}", $part[1], lcfirst(str_replace('The answer', 'It', $unreadable->getMessage())));
            }
        }
        $json = '['.implode(',', $good).']';

        return RecordPage::ofList(array_values((array) json_decode($json, false, JsonDecoder::DEPTH, JSON_BIGINT_AS_STRING)), $json);
    }

    /**
     * Goes to the array: everything before it belongs to the envelope.
     */
    private function seek(): void
    {
        while (strlen($this->buffer) < 3 && ! $this->isEnd) {
            $this->fill();
        }
        $this->buffer = ltrim(str_starts_with($this->buffer, "\xEF\xBB\xBF") ? substr($this->buffer, 3) : $this->buffer);
        foreach ($this->names as $name) {
            $this->take('/\G\s*+\{/');
            $wanted = json_encode($name);
            for (; ;) {
                $key = $this->take('/\G\s*+('.self::STRING.')\s*+:\s*+/s');
                if (json_encode(json_decode($key[1])) === $wanted) {
                    break;
                }
                $this->take('/\G'.self::item().'\s*+,/s', true);
            }
        }
        $this->take('/\G\s*+\[/');
    }

    /**
     * Takes what matches into the envelope.
     *
     * @return array<string>
     */
    private function take(string $pattern, bool $mayBeUnusual = false): array
    {
        for (; ;) {
            // A scalar at the end of what is there may go on in the next chunk.
            if (preg_match($pattern, $this->buffer, $part) === 1 && (strlen($part[0]) < strlen($this->buffer) || $this->isEnd)) {
                $this->buffer = substr($this->buffer, strlen($part[0]));
                $this->around .= $part[0];
                if (strlen($this->around) > self::AROUND) {
                    throw UnreadableAnswer::beyondReading('there are more than '.intdiv(self::AROUND, 1_000_000).' MB before the records');
                }

                return $part;
            }
            if ($this->isEnd || strlen($this->buffer) > ($mayBeUnusual ? self::AROUND : 3 * self::BATCH)) {
                throw $this->absent();
            }
            $this->fill();
        }
    }

    /**
     * What follows the array, to the end of the text.
     */
    private function rest(): void
    {
        $this->around .= ']';
        while (! $this->isEnd && strlen($this->around) + strlen($this->buffer) < self::AROUND) {
            $this->fill();
        }
        if (! $this->isEnd) {
            throw UnreadableAnswer::beyondReading('there are more than '.intdiv(self::AROUND, 1_000_000).' MB around the records');
        }
        $this->around .= $this->buffer;
        $this->buffer = '';
        $twice = Duplicates::before($this->around, $this->names, []);
        if ($twice !== null) {
            throw UnreadableAnswer::beyondReading($twice);
        }
    }

    private function fill(): void
    {
        $part = ($this->read)($this->wanted);
        // Twice as much each time, so that a long record is not looked through again and again.
        $this->wanted = min(16_000_000, $this->wanted * 2);
        $this->isEnd = $part === '';
        $this->buffer .= $part;
    }

    private function absent(): UnreadableAnswer
    {
        $path = '$'.implode('', array_map(static fn (string $name): string => \DeepSpring\Answer\JsonPath\Location::short($name), $this->names));
        try {
            if ($this->isEnd) {
                JsonDecoder::decode($this->around.$this->buffer);
            }
        } catch (UnreadableAnswer $unreadable) {
            return $unreadable;
        }

        return UnreadableAnswer::beyondReading("it has no array at $path");
    }

    private function broken(): UnreadableAnswer
    {
        $start = ltrim($this->buffer);

        return UnreadableAnswer::beyondReading($start === '' ? "it ends after record {$this->count}, before the list does" : "after record {$this->count} it is no JSON any more, near \"".mb_strimwidth(mb_scrub(substr($start, 0, 80), 'UTF-8'), 0, 40, '…', 'UTF-8').'"');
    }

    /**
     * A JSON value by its brackets and quotes; whether it is one is seen when it is decoded.
     */
    private static function item(): string
    {
        return '(?:(?<open>\{(?:[^{}\[\]"]++|'.self::STRING.'|(?&open)|(?&list))*+\}|(?<list>\[(?:[^{}\[\]"]++|'.self::STRING.'|(?&open)|(?&list))*+\]))|'.self::STRING.'|'.self::SCALAR.')';
    }
}
