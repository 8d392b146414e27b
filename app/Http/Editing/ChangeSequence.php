<?php

declare(strict_types=1);

namespace App\Http\Editing;

use Illuminate\Http\Request;
use Illuminate\Support\Facades\Cache;

/**
 * The place of a change among those that one open sheet sends. Requests can overtake each other on
 * their way; each carries the whole form, so that an older one has nothing to add.
 */
final readonly class ChangeSequence
{
    private function __construct(private string $page, private int $number)
    {
    }

    public static function of(Request $request): ?self
    {
        return preg_match('/^([0-9a-f]{24}):(\d{1,9})$/D', (string) $request->header('X-Sheet'), $part) === 1 ? new self($part[1], (int) $part[2]) : null;
    }

    /**
     * Whether a newer change of the same sheet was taken already. To be asked while the document is locked.
     */
    public function isPast(): bool
    {
        if ((int) Cache::get("turn.$this->page", 0) > $this->number) {
            return true;
        }
        Cache::put("turn.$this->page", $this->number, 86_400);

        return false;
    }
}
