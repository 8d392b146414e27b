<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Notices of an import that say the same of different places.
 */
final readonly class NoticeGroup
{
    /** What one notice says of its own place: names in quotes or braces, references, numbers. */
    private const OWN = '~"[^"]*"|\{[^{}]*\}|\$\.?[\w.\[\]*]+|\S*#/\S*|https?://\S*|\d+~u';

    /**
     * @param  string  $kind  of the notices
     * @param  string  $title  what they have in common, with … for what is each one's own
     * @param  non-empty-list<ImportNotice>  $notices  in the order in which they were found
     */
    private function __construct(public string $kind, public string $title, public array $notices)
    {
    }

    /**
     * All of the notices, by what they say: what was left out first, then what was corrected, then notes,
     * and in each the most frequent first.
     *
     * @param  list<ImportNotice>  $notices
     * @return list<self>
     */
    public static function all(array $notices): array
    {
        $groups = [];
        foreach ($notices as $notice) {
            $groups[$notice->kind.' '.preg_replace(self::OWN, '…', $notice->what)][] = $notice;
        }
        $all = [];
        foreach ($groups as $of) {
            $all[] = new self($of[0]->kind, count($of) === 1 ? $of[0]->what : (string) preg_replace(self::OWN, '…', $of[0]->what), $of);
        }
        $order = ['left-out' => 0, 'mended' => 1, 'note' => 2];
        usort($all, static fn (self $a, self $b): int => [$order[$a->kind], -count($a->notices)] <=> [$order[$b->kind], -count($b->notices)]);

        return $all;
    }
}
