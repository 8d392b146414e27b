<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Hands out slugs, none twice.
 */
final class Slugs
{
    /** @var array<string, true> */
    private array $taken = [];

    /**
     * @param  list<string>  $taken
     */
    public function __construct(array $taken = [])
    {
        foreach ($taken as $slug) {
            $this->taken[$slug] = true;
        }
    }

    public function take(string $wish): string
    {
        $base = self::clean($wish);
        $slug = $base;
        for ($number = 2; isset($this->taken[$slug]); $number++) {
            $slug = substr($base, 0, 60)."-$number";
        }
        $this->taken[$slug] = true;

        return $slug;
    }

    /**
     * Small letters, digits and single hyphens; humps become words.
     */
    public static function clean(string $text): string
    {
        $ascii = preg_match('/^[\x00-\x7f]*$/D', $text) === 1 ? $text : (\Transliterator::create('Any-Latin; Latin-ASCII')?->transliterate($text) ?: $text);
        $words = (string) preg_replace('/(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])/', '-', $ascii);
        $slug = trim((string) preg_replace('/[^a-z0-9]+/', '-', strtolower($words)), '-');

        return rtrim(substr($slug, 0, 60), '-') ?: 'endpoint';
    }
}
