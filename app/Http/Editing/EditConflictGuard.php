<?php

declare(strict_types=1);

namespace App\Http\Editing;

use App\Sources\RecentEditors;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Http\Request;

/**
 * One open sheet, among others that may be open on the same thing. It says what it last saw; when
 * somebody else, or another tab, has changed that since, it is told instead of overwriting it.
 */
final readonly class EditConflictGuard
{
    private function __construct(private string $page, private string $seen, private bool $insists)
    {
    }

    public static function of(Request $request): ?self
    {
        $page = self::page($request);
        $seen = $request->input('seen');

        return $page === '' || ! is_string($seen) || $seen === '' ? null : new self($page, $seen, $request->input('insist') === '1');
    }

    public static function mark(mixed $part): string
    {
        return hash('xxh64', JsonSubtrees::canonical($part));
    }

    /**
     * The token of the sheet that a request comes from; empty when it comes from none.
     */
    public static function page(Request $request): string
    {
        return preg_match('/^([0-9a-f]{24}):/', (string) $request->header('X-Sheet'), $part) === 1 ? $part[1] : '';
    }

    /**
     * To be asked while the document is locked.
     *
     * @param  string  $thing  what is edited: `source.ID` or `endpoint.ID`
     * @param  mixed  $now  how it stands
     *
     * @throws ChangedElsewhere
     */
    public function check(string $thing, mixed $now): void
    {
        if ($this->insists || self::mark($now) === $this->seen) {
            return;
        }
        $last = RecentEditors::of($thing);
        if ($last === null || $last['page'] !== $this->page) {
            throw new ChangedElsewhere($last['who'] ?? 'Somebody', $last['at'] ?? time(), $now);
        }
    }
}
