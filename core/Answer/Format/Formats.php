<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Family;
use DeepSpring\Value\Kind\Kind;

/**
 * A body → a document, by what the source file says of it, or what it says of itself. A new format is a
 * class that implements `Format`, and a line here.
 */
final class Formats
{
    /** Bytes that a packed body may become. */
    public const MOST = 256_000_000;

    /** Of the body that is looked at to find out what it is. */
    private const START = 65_536;

    /** In this order they are asked where two are as sure. */
    private const ALL = [NdJsonFormat::class, XmlFormat::class, CsvFormat::class, JsonFormat::class, TextFormat::class];

    private const CHARSETS = ['latin1' => 'iso-8859-1', 'iso8859-1' => 'iso-8859-1', 'cp1252' => 'windows-1252', 'utf8' => 'utf-8', 'us-ascii' => 'utf-8'];

    /** @var Family<Format>|null */
    private static ?Family $family = null;

    /**
     * @param  string  $format  auto, or the name of one
     * @param  array<string, array<string, mixed>>  $settings  of formats, by their names
     */
    public function __construct(private readonly string $format = 'auto', private readonly array $settings = [])
    {
    }

    /**
     * @return Family<Format>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(Format::class, self::ALL);
    }

    /**
     * What stands under `answer` for the formats.
     *
     * @return array<string, array<string, mixed>> JSON Schema by name
     */
    public static function schemas(): array
    {
        $schemas = ['format' => ['enum' => ['auto', ...self::family()->names()]]];
        foreach (array_filter(self::family()->kinds(), static fn (Kind $kind): bool => $kind->fields !== []) as $name => $kind) {
            $schemas[$name] = ['type' => 'object', 'additionalProperties' => false, 'properties' => []];
            foreach ($kind->fields as $field) {
                $schemas[$name]['properties'][$field->name] = $field->schema();
            }
        }

        return $schemas;
    }

    /**
     * @param  string  $contentType  the header as it came
     *
     * @throws UnreadableAnswer
     */
    public function read(string $body, string $contentType): Read
    {
        $body = Unpack::of($body, self::MOST);
        $charset = preg_match('/charset\s*=\s*"?([\w-]+)/i', $contentType, $part) === 1 ? strtolower($part[1]) : '';

        return $this->for($contentType, substr($body, 0, self::START))->read($body, self::CHARSETS[$charset] ?? $charset);
    }

    /**
     * What a body is read with: what is chosen, or whatever is surest of it; JSON, if nothing is.
     *
     * @param  string  $contentType  the header as it came
     * @param  string  $start  what the body begins with
     */
    public function for(string $contentType, string $start): Format
    {
        $type = strtolower(trim((string) strtok($contentType, ';')));
        $start = ltrim($start, "\xEF\xBB\xBF \t\r\n");
        $best = Recognition::No;
        $class = self::family()->class($this->format);
        foreach ($class === null ? self::family()->names() : [] as $name) {
            $candidate = self::family()->class($name) ?? JsonFormat::class;
            $recognition = $candidate::of([])->recognises($type, $start);
            if ($recognition->value > $best->value) {
                [$best, $class] = [$recognition, $candidate];
            }
        }
        $class ??= JsonFormat::class;

        return $class::of($this->settings[$class::kind()->name] ?? []);
    }
}
