<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

/**
 * Paging that cannot be right. It fails the run, since what was read is not the whole list.
 */
final class OnwardFailure extends \RuntimeException
{
    private function __construct(string $message, public readonly int $page, public readonly ?string $hint = null)
    {
        parent::__construct($message);
    }

    public static function repeatedPage(int $page, int $earlier, string $parameter): self
    {
        return new self("Page $page holds the same records as page $earlier.", $page, "Following it would read the same records again. Check \"$parameter\" with the documentation.");
    }

    /**
     * @param  string|null  $other  what the answer suggests in its place, as a half sentence
     */
    public static function ignoredParameter(string $parameter, ?string $other): self
    {
        return new self("Page 2 holds the same records as page 1: the API ignores \"$parameter\".", 2, $other === null ? 'Check how its documentation spells that parameter, and where it is sent.' : "$other Check it with the documentation.");
    }

    public static function notPartial(int $page, int $status): self
    {
        return new self("Page $page was answered with $status and not with 206, so the service no longer follows Range.", $page);
    }

    public static function otherRange(int $page, string $asked, string $came): self
    {
        return new self("On page $page, $asked were asked for, and Content-Range says $came.", $page, 'What it hands out is not what was asked, so the list would have gaps or doubles.');
    }

    public static function noPart(string $path): self
    {
        return new self("There is neither a text nor a number at $path, so the further parts cannot be asked for.", 1, 'Compare the paths with the answer.');
    }

    public static function repeatedCursor(int $page, string $cursor): self
    {
        return new self('Page '.$page.' hands back a cursor that was used before: "'.mb_strimwidth($cursor, 0, 60, '…', 'UTF-8').'".', $page, 'Following it would read the same pages for ever. Check that the right member is taken as the cursor, and that it is sent back under the right name.');
    }

    public static function repeatedLink(int $page, string $link): self
    {
        return new self("Page $page links to a page that was read before: $link.", $page, 'Following it would read the same pages for ever. Check that the right member is taken as the link.');
    }

    public static function cursorMissing(int $page, string $next, ?string $more): self
    {
        return new self($more === null ? "Page $page has records, but $next finds no cursor to go on with." : "Page $page says there is more ($more is true), but $next finds no cursor to go on with.", $page, 'Check the path of the cursor.');
    }

    public static function notACursor(int $page, string $next): self
    {
        return new self("What $next finds on page $page is neither a text nor a number, so it cannot be sent as a cursor.", $page);
    }

    public static function otherOrigin(int $page, string $link, string $origin): self
    {
        return new self("Page $page links to another origin: $link. Credentials for $origin are not sent there.", $page, 'If that host is the same service, make it the base address.');
    }

    public static function notALink(int $page, string $path): self
    {
        return new self("What $path finds on page $page is not a link.", $page);
    }
}
