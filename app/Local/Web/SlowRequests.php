<?php

declare(strict_types=1);

namespace App\Local\Web;

/**
 * Requests that may take long, because they ask a service, run a statement of a person or write a
 * large file. They are answered by a pool of their own, so that they can never keep a page waiting.
 */
final readonly class SlowRequests
{
    /** Regular expressions over a method, a space, a path, and after a question mark the query. */
    public const PATTERNS = [
        // What is sent to a service while somebody waits for it.
        '^POST /sources$',
        '^POST /sources/[^/?]+/(test|secrets|discover|import|upload|endpoint|service|service/take|service/counts)$',
        '^POST /sources/[^/?]+/service/[^/?]+/(count|rows)$',
        '^POST /sources/[^/?]+/consent/forget$',
        '^POST /sources/[^/?]+/docs/pages$',
        '^POST /sources/[^/?]+/endpoints/[^/?]+/(try|take|compare|choice/rows|lookup/try|change/prove)$',
        '^POST /tries/[^/?]+/(repair/[0-9]+|allow)$',
        '^POST /imports/[^/?]+$',
        '^POST /notes/following/[0-9]+/test$',
        '^GET /consent/return([?].*)?$',
        '^(GET|POST) /sign-in/provider(/return)?([?].*)?$',
        // Statements.
        '^POST /queries/(run|export|asks|coverage|chart|results|empty)$',
        '^POST /queries/[0-9]+(/keep)?$',
        '^DELETE /queries/[0-9]+(/keep)?$',
        '^GET /tables/[^/?]+[?](.*&)?(q|sort|after)=[^&]',
        '^GET /tables/[^/?]+/change[?](.*&)?(q|sort)=[^&]',
        '^POST /tables/[^/?]+/change/bulk$',
        '^GET /tables/[^/?]+/origin([?].*)?$',
        '^POST /queries/origin$',
        '^GET /tables/[^/?]+/indexes(/cost)?([?].*)?$',
        '^POST /tables/[^/?]+/profile$',
        '^(GET|DELETE) /tables/[^/?]+/history([?].*)?$',
        '^GET /sources/[^/?]+/endpoints/[^/?]+/checks/tried([?].*)?$',
        // Rows for others.
        '^(GET|HEAD|POST) /(feeds|odata2?)/[^?]+([?].*)?$',
        '^(GET|POST) /outlets/[0-9]+$',
        '^POST /outlets/file$',
        // Large files.
        '^GET /tries/[0-9]+/(har|[0-9]+/body)$',
        '^GET /queries/export/[a-z0-9]+$',
        '^GET /runs/[^/?]+/rejects[.]csv$',
        '^GET /people/log[.]csv([?].*)?$',
        '^GET /journal/export([?].*)?$',
        '^GET /tables/[^/?]+/change/bulk/[0-9]+/refusals[.]csv$',
    ];

    public static function holds(string $method, string $target): bool
    {
        foreach (self::PATTERNS as $pattern) {
            if (preg_match("~$pattern~", "$method $target") === 1) {
                return true;
            }
        }

        return false;
    }
}
