<?php

declare(strict_types=1);

namespace App\Http\Sheets;

use App\Models\User;
use DeepSpring\SourceFile\Trees;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Cache;

/**
 * One open sheet, among others that may be open on the same thing. It says what it last saw; when
 * somebody else, or another tab, has changed that since, it is told instead of overwriting it.
 */
final readonly class Hand
{
    private function __construct(private string $page, private string $seen, private bool $insists)
    {
    }

    public static function of(Request $request): ?self
    {
        $page = preg_match('/^([0-9a-f]{24}):/', (string) $request->header('X-Sheet'), $part) === 1 ? $part[1] : null;
        $seen = $request->input('seen');

        return $page === null || ! is_string($seen) || $seen === '' ? null : new self($page, $seen, $request->input('insist') === '1');
    }

    public static function mark(mixed $part): string
    {
        return hash('xxh64', Trees::canonical($part));
    }

    /**
     * To be asked while the document is locked.
     *
     * @param  string  $thing  what is edited
     * @param  mixed  $now  how it stands
     *
     * @throws ChangedElsewhere
     */
    public function check(string $thing, mixed $now): void
    {
        $last = Cache::get("hand.$thing");
        if ($this->insists || self::mark($now) === $this->seen || ! is_array($last) || $last['page'] === $this->page) {
            return;
        }

        throw new ChangedElsewhere((string) $last['who'], (int) $last['at'], $now);
    }

    public function wrote(string $thing, User $who): void
    {
        Cache::put("hand.$thing", ['page' => $this->page, 'who' => $who->name, 'at' => time()], 86_400);
    }
}
