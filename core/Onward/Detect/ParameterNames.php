<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * The names that APIs use, in lower case and without marks between words.
 */
final class ParameterNames
{
    public const PAGE = '/^(?:page|pageno|pagenr|pagenum|pagenumber|pageindex|currentpage|curpage|p|pg|number)$/';

    public const PAGE_SENT = '/^(?:page|pageno|pagenr|pagenum|pagenumber|pageindex|currentpage|curpage|p|pg)$/';

    public const PAGES = '/^(?:pages|totalpages|pagecount|pagestotal|lastpage|numpages|numberofpages|maxpage|totalpagecount)$/';

    public const NEXT_PAGE = '/^(?:nextpage|next|nextpagenumber|nextpageno)$/';

    public const OFFSET = '/^(?:offset|skip|start|startat|startindex|from|startrow|startposition|firstresult|recordoffset|first|begin)$/';

    public const OFFSET_SENT = '/^(?:offset|skip|start|startat|startindex|startrow|startposition|firstresult|recordoffset)$/';

    public const NEXT_OFFSET = '/^(?:nextoffset|nextskip|nextstart|next)$/';

    public const SIZE = '/^(?:limit|size|perpage|pagesize|pagelength|pagelimit|maxresults|maxitems|maxrecords|resultsperpage|itemsperpage|recordsperpage|itemcount|top|take|rows|numrows|max|pagesizelimit|count|first|n)$/';

    /** Sizes in an answer that go by the name of their parameter. */
    public const SIZE_SENT = '/^(?:limit|perpage|pagesize|pagelength|pagelimit|maxresults|maxitems|maxrecords|resultsperpage|itemsperpage|recordsperpage|size|take|rows)$/';

    public const TOTAL = '/^(?:total|totalcount|totalitems|totalresults|totalrecords|totalelements|totalhits|totalrows|totalsize|count|numfound|recordstotal|matches|found|hits|resultcount|resultscount|available|numberofrecords|numresults|overall)$/';

    public const TOTAL_HEADER = '/^(?:x-)?(?:total-count|total|total-items|total-results|pagination-total-count|total-records|result-count|count)$/';

    public const CURSOR = '/^(?:nextcursor|nexttoken|nextpagetoken|nextpage|nextpagecursor|nextmarker|continuationtoken|continuation|continue|cursor|endcursor|after|next|nextid|nextkey|marker|scrollid|pagetoken|bookmark|resumptiontoken|resumetoken|nextafter|cursornext|aftercursor|nextset|nextpageid|lastkey|lastevaluatedkey|pagingtoken|position|syncmarker)$/';

    public const CURSOR_SENT = '/^(?:after|cursor|nexttoken|pagetoken|nextpagetoken|startingafter|continuationtoken|continuation|continue|nextcursor|marker|scrollid|next|bookmark|resumptiontoken|resumetoken|nextpage|pagecursor|startafter|startkey|exclusivestartkey|pageafter|pagingtoken|position|starttoken)$/';

    public const FROM_LAST_SENT = '/^(?:startingafter|sinceid|afterid|lastid|startafter|after|idafter|greaterthanid|minid|fromid|since)$/';

    public const MORE = '/^(?:hasmore|hasnext|hasnextpage|more|moreavailable|istruncated|morerecords|hasmoreitems|hasmoreresults|morepages|nextavailable|truncated|incomplete)$/';

    /** Flags that are true on the last page. */
    public const LAST = '/^(?:last|islast|islastpage|lastpage|done|complete|finished|endoflist)$/';

    public const LINK = '/^(?:next|nextlink|nexturl|nextpage|nextpageurl|nextpagelink|nexthref|nexturi|nextpageuri|odatanextlink|next\w*(?:url|uri|link|href)|href|url|uri|linknext|morelink|moreurl)$/';

    public const PREVIOUS = '/^(?:prev|previous|prevlink|previouslink|prevurl|previousurl|prevpageurl|prevpage|previouspage)$/';

    public const PARTS = '/^(?:partitions|parts|chunks|segments|partitioninfo|shards|blocks|slices)$/';

    /**
     * The parameter that a token found under a name is most likely sent back as, in the same way of
     * writing.
     */
    public static function parameterOf(string $member, string $parent): string
    {
        $plain = AnswerMember::plainly($member);
        $snake = str_contains($member, '_');
        $kebab = str_contains($member, '-');
        $write = static fn (string $first, string $second): string => match (true) {
            $snake => "{$first}_$second",
            $kebab => "$first-$second",
            default => $first.ucfirst($second),
        };

        return match (true) {
            in_array($plain, ['nextcursor', 'nextpagecursor', 'cursornext'], true) => 'cursor',
            $plain === 'nextpagetoken' => $write('page', 'token'),
            in_array($plain, ['endcursor', 'aftercursor', 'nextafter'], true) => 'after',
            $plain === 'nextmarker' => 'marker',
            $plain === 'nextid' => $write('after', 'id'),
            $plain === 'nextkey' || $plain === 'lastevaluatedkey' || $plain === 'lastkey' => $write('start', 'key'),
            $plain === 'nextpageid' => $write('page', 'id'),
            $plain === 'nextset' => 'set',
            $plain === 'nextpage' => 'page',
            $plain === 'next' && in_array($parent, ['cursor', 'cursors'], true) => 'cursor',
            $plain === 'next' => 'after',
            default => $member,
        };
    }
}
