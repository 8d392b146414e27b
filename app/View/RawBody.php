<?php

declare(strict_types=1);

namespace App\View;

use Illuminate\Support\HtmlString;

/**
 * A body as text, in windows of 64 KB, with the places where something stands.
 */
final readonly class RawBody
{
    private const WINDOW = 65_536;

    private const MOST = 200;

    /** @var list<array{int, HtmlString}> byte, and what stands around it */
    public array $hits;

    public bool $hasMore;

    public int $bytes;

    public int $from;

    public string $search;

    public function __construct(private ?string $text, string $search, int $at)
    {
        $search = mb_scrub($search, 'UTF-8');
        $this->search = $search;
        $this->bytes = strlen($text ?? '');
        $this->from = max(0, min($at, max(0, $this->bytes - 1)));
        $hits = [];
        $more = false;
        if ($text !== null && $search !== '') {
            for ($found = -1; ($found = stripos($text, $search, $found + 1)) !== false;) {
                if (count($hits) >= self::MOST) {
                    $more = true;

                    break;
                }
                $hits[] = [$found, $this->around($found)];
            }
        }
        $this->hits = $hits;
        $this->hasMore = $more;
    }

    public function isGone(): bool
    {
        return $this->text === null;
    }

    /**
     * The window, what is searched for marked in it.
     */
    public function window(): HtmlString
    {
        $part = mb_strcut((string) $this->text, $this->from, self::WINDOW, 'UTF-8');
        $safe = e(mb_scrub($part, 'UTF-8'));

        return new HtmlString($this->search === '' ? $safe : (string) preg_replace('~'.preg_quote(e($this->search), '~').'~iu', '<mark>$0</mark>', $safe));
    }

    public function next(): ?int
    {
        return $this->from + self::WINDOW < $this->bytes ? $this->from + self::WINDOW : null;
    }

    public function previous(): ?int
    {
        return $this->from > 0 ? max(0, $this->from - self::WINDOW) : null;
    }

    private function around(int $at): HtmlString
    {
        $before = mb_strcut((string) $this->text, max(0, $at - 40), min(40, $at), 'UTF-8');
        $after = mb_strcut((string) $this->text, $at + strlen($this->search), 60, 'UTF-8');
        $hit = substr((string) $this->text, $at, strlen($this->search));

        return new HtmlString(e(mb_scrub($before, 'UTF-8')).'<mark>'.e(mb_scrub($hit, 'UTF-8')).'</mark>'.e(mb_scrub($after, 'UTF-8')));
    }
}
