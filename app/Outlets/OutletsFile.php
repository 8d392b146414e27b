<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Environment;
use App\Models\Feed;
use DeepSpring\Value\NearestName;
use Symfony\Component\Yaml\Exception\ParseException;
use Symfony\Component\Yaml\Yaml;

/**
 * Feeds and their readers as a file, `outlets.yaml`: to be kept beside one's programs, compared, and taken over
 * elsewhere. Keys of readers are in no file.
 *
 * @phpstan-type FeedPart array{name: string, version: int, environment: string, reads: string, title: string, about: string, owner: string, columns: list<string>, where: string, key: list<string>, order: string, page: int, at_most: int, for_people: bool, cached_for: int, refused_when_older_than: int|null, web_pages: list<string>, published: bool, readers: list<string>}
 * @phpstan-type ReaderPart array{name: string, purpose: string, owner: string, comes_from: list<string>, requests_a_minute: int, requests_a_day: int, rows_a_day: int|null, at_once: int, shown: array<string, string>, refreshes: list<string>}
 */
final readonly class OutletsFile
{
    private const VERSION = 1;

    private const LARGEST = 2_000_000;

    /** What a feed can say: name → type, and what it is where nothing is said; null for what has to be said. */
    private const FEED = [
        'name' => ['text', null], 'version' => ['number', 1], 'environment' => ['text', null], 'reads' => ['text', null], 'title' => ['text', ''], 'about' => ['text', ''], 'owner' => ['text', null], 'columns' => ['list', null], 'where' => ['text', ''],
        'key' => ['list', []], 'order' => ['text', ''], 'page' => ['number', 100], 'at_most' => ['number', 1000], 'for_people' => ['truth', true], 'cached_for' => ['number', 0], 'refused_when_older_than' => ['number or nothing', false], 'web_pages' => ['list', []], 'published' => ['truth', false], 'readers' => ['list', []],
    ];

    private const READER = [
        'name' => ['text', null], 'purpose' => ['text', ''], 'owner' => ['text', null], 'comes_from' => ['list', []], 'requests_a_minute' => ['number', 60], 'requests_a_day' => ['number', 10_000], 'rows_a_day' => ['number or nothing', false], 'at_once' => ['number', 4], 'shown' => ['map', []], 'refreshes' => ['list', []],
    ];

    /**
     * @param  list<FeedPart>  $feeds
     * @param  list<ReaderPart>  $readers
     */
    private function __construct(public array $feeds, public array $readers)
    {
    }

    /**
     * What there is now, of one environment or of all.
     */
    public static function now(?Environment $environment = null): self
    {
        $feeds = Feed::query()->with('environment', 'user', 'consumers')->when($environment !== null, static fn ($query) => $query->where('environment_id', $environment?->id))->orderBy('name')->orderBy('version')->get();

        return new self(array_values($feeds->map(self::feed(...))->all()), array_values(Consumer::query()->with('user')->orderBy('name')->get()->map(self::reader(...))->all()));
    }

    /**
     * @throws CannotPublish
     */
    public static function read(string $text): self
    {
        if (strlen($text) > self::LARGEST) {
            throw CannotPublish::because('The file has more than '.self::LARGEST.' bytes.');
        }
        try {
            $document = Yaml::parse($text, Yaml::PARSE_EXCEPTION_ON_INVALID_TYPE);
        } catch (ParseException $invalid) {
            throw CannotPublish::because('The file is no YAML: '.rtrim($invalid->getMessage(), '.').'.', previous: $invalid);
        }
        if (! is_array($document) || ($document['outlets'] ?? null) !== self::VERSION) {
            throw CannotPublish::because('The file does not begin with "outlets: 1".');
        }
        self::known($document, ['outlets', 'feeds', 'readers'], 'The file');
        $parts = [];
        foreach (['feeds' => self::FEED, 'readers' => self::READER] as $what => $fields) {
            $list = $document[$what] ?? [];
            if (! is_array($list) || ! array_is_list($list)) {
                throw CannotPublish::because("$what is a list.");
            }
            $parts[$what] = $seen = [];
            foreach ($list as $number => $one) {
                $part = self::part($one, $fields, substr($what, 0, -1).' '.($number + 1));
                $mark = "{$part['name']} ".($part['version'] ?? '');
                isset($seen[$mark]) ? throw CannotPublish::because(trim($mark).' is there twice.') : $seen[$mark] = true;
                $parts[$what][] = $part;
            }
        }
        /** @var list<FeedPart> $feeds */
        $feeds = $parts['feeds'];
        /** @var list<ReaderPart> $readers */
        $readers = $parts['readers'];

        return new self($feeds, $readers);
    }

    /**
     * With what differs from what it is anyway.
     */
    public function text(): string
    {
        $shorter = static fn (array $parts, array $fields): array => array_map(static fn (array $part): array => array_filter($part, static fn (mixed $value, string $name): bool => $value !== ($fields[$name][1] === false ? null : $fields[$name][1]), ARRAY_FILTER_USE_BOTH), $parts);

        return Yaml::dump(['outlets' => self::VERSION, 'feeds' => $shorter($this->feeds, self::FEED), 'readers' => $shorter($this->readers, self::READER)], 4, 2, Yaml::DUMP_COMPACT_NESTED_MAPPING | Yaml::DUMP_EMPTY_ARRAY_AS_SEQUENCE | Yaml::DUMP_MULTI_LINE_LITERAL_BLOCK | Yaml::DUMP_NULL_AS_TILDE);
    }

    /**
     * What taking this file over would change, a sentence each; what is there and not in the file stays.
     *
     * @return list<string>
     */
    public function changes(self $now): array
    {
        $changes = [];
        foreach ([['readers', 'The reader'], ['feeds', 'The feed']] as [$what, $called]) {
            $there = [];
            foreach ($now->{$what} as $one) {
                $there[self::mark($one)] = $one;
            }
            foreach ($this->{$what} as $one) {
                $was = $there[self::mark($one)] ?? null;
                if ($was === null) {
                    $changes[] = "$called ".self::mark($one).' is added.';

                    continue;
                }
                foreach ($one as $name => $value) {
                    if ($value !== $was[$name]) {
                        $changes[] = "$called ".self::mark($one).": $name was ".self::said($was[$name]).' and becomes '.self::said($value).'.';
                    }
                }
            }
        }

        return $changes;
    }

    /**
     * @param  FeedPart|ReaderPart  $part
     */
    private static function mark(array $part): string
    {
        return isset($part['version']) ? "{$part['name']} (version {$part['version']})" : $part['name'];
    }

    private static function said(mixed $value): string
    {
        return mb_strimwidth((string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 0, 200, '…');
    }

    /**
     * @return FeedPart
     */
    private static function feed(Feed $feed): array
    {
        return [
            'name' => $feed->name, 'version' => $feed->version, 'environment' => $feed->environment->slug, 'reads' => $feed->reads, 'title' => $feed->title, 'about' => $feed->about, 'owner' => $feed->user->email,
            'columns' => array_map(static fn (array $one): string => $one['name'] === $one['column'] ? $one['name'] : "{$one['name']} = {$one['column']}", $feed->columns), 'where' => $feed->condition, 'key' => $feed->key, 'order' => $feed->sort,
            'page' => $feed->page, 'at_most' => $feed->most, 'for_people' => $feed->for_people, 'cached_for' => $feed->cache_seconds, 'refused_when_older_than' => $feed->oldest_minutes, 'web_pages' => $feed->origins, 'published' => $feed->is_on,
            'readers' => array_values($feed->consumers->pluck('name')->sort()->map(strval(...))->all()),
        ];
    }

    /**
     * @return ReaderPart
     */
    private static function reader(Consumer $consumer): array
    {
        return [
            'name' => $consumer->name, 'purpose' => $consumer->purpose, 'owner' => $consumer->user->email, 'comes_from' => $consumer->addresses, 'requests_a_minute' => $consumer->a_minute, 'requests_a_day' => $consumer->a_day,
            'rows_a_day' => $consumer->rows_a_day, 'at_once' => $consumer->at_once, 'shown' => $consumer->values, 'refreshes' => $consumer->refreshes,
        ];
    }

    /**
     * @param  array<string, array{string, mixed}>  $fields
     * @return array<string, mixed> all fields
     *
     * @throws CannotPublish
     */
    private static function part(mixed $one, array $fields, string $called): array
    {
        if (! is_array($one)) {
            throw CannotPublish::because("$called has no fields.");
        }
        $called = is_string($one['name'] ?? null) ? "$called ({$one['name']})" : $called;
        self::known($one, array_keys($fields), $called);
        $part = [];
        foreach ($fields as $name => [$type, $else]) {
            $value = $one[$name] ?? $else;
            if ($value === null) {
                throw CannotPublish::because("$called does not say $name.");
            }
            $isFit = match ($type) {
                'text' => is_string($value),
                'number' => is_int($value) && $value >= 0,
                'number or nothing' => $value === false || is_int($value) && $value >= 0,
                'truth' => is_bool($value),
                'list' => is_array($value) && array_is_list($value) && array_filter($value, static fn (mixed $item): bool => ! is_string($item)) === [],
                default => is_array($value) && array_filter($value, static fn (mixed $item): bool => ! is_string($item)) === [],
            };
            if (! $isFit) {
                throw CannotPublish::because("$called: $name is ".['text' => 'a text', 'number' => 'a whole number', 'number or nothing' => 'a whole number, or left out', 'truth' => 'true or false', 'list' => 'a list of texts', 'map' => 'names with texts'][$type].'.');
            }
            $part[$name] = $value === false && $type === 'number or nothing' ? null : $value;
        }

        return $part;
    }

    /**
     * @param  array<array-key, mixed>  $given
     * @param  list<string>  $names
     *
     * @throws CannotPublish
     */
    private static function known(array $given, array $names, string $called): void
    {
        foreach (array_keys($given) as $name) {
            if (! in_array((string) $name, $names, true)) {
                $near = NearestName::to((string) $name, $names);
                throw CannotPublish::because("$called says \"$name\", which is not known".($near === null ? '.' : "; \"$near\" was probably meant."));
            }
        }
    }
}
