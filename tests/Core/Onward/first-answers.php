<?php

declare(strict_types=1);

/*
 * First answers of lists, in the shapes that public APIs use, with what is right for each. `R`
 * stands for ten records with an id. Expected: the style, and what of its settings decides; null
 * where nothing says that there is more.
 *
 * @return array<string, array{0: string, 1: array<string, mixed>|null, 2?: string, 3?: array<string, string>, 4?: list<string>, 5?: string}> body, expected, address, headers, known parameters, method
 */

return [
    // Tokens in the answer
    'token and flag' => ['{"data": R, "next": "bG9hbi0xMA", "has_more": true}', ['style' => 'cursor', 'next' => '$.next', 'more' => '$.has_more'], '/v2/loans?limit=10'],
    'next_cursor at the top' => ['{"items": R, "next_cursor": "eyJpZCI6MTB9"}', ['style' => 'cursor', 'next' => '$.next_cursor', 'send_as' => 'cursor']],
    'next_cursor in response metadata' => ['{"ok": true, "couriers": R, "response_metadata": {"next_cursor": "dXNlcjpVMDYxTkZUVDI="}}', ['style' => 'cursor', 'next' => '$.response_metadata.next_cursor', 'send_as' => 'cursor'], '/list?limit=10'],
    'nextPageToken' => ['{"kind": "crates#list", "nextPageToken": "CAoQAA", "items": R}', ['style' => 'cursor', 'next' => '$.nextPageToken', 'send_as' => 'pageToken'], '/crates?maxResults=10'],
    'next_page_token' => ['{"crates": R, "next_page_token": "Cgo"}', ['style' => 'cursor', 'next' => '$.next_page_token', 'send_as' => 'page_token'], '/crates?page_size=10'],
    'paging cursors after' => ['{"data": R, "paging": {"cursors": {"before": "MQ==", "after": "MTA="}}}', ['style' => 'cursor', 'next' => '$.paging.cursors.after', 'send_as' => 'after']],
    'paging next after' => ['{"results": R, "paging": {"next": {"after": "10"}}}', ['style' => 'cursor', 'next' => '$.paging.next.after', 'send_as' => 'after'], '/objects?limit=10'],
    'page_info end_cursor' => ['{"nodes": R, "page_info": {"end_cursor": "Y3Vyc29yOjEw", "has_next_page": true}}', ['style' => 'cursor', 'next' => '$.page_info.end_cursor', 'send_as' => 'after', 'more' => '$.page_info.has_next_page']],
    'pageInfo camel case' => ['{"nodes": R, "pageInfo": {"endCursor": "Y3Vy", "hasNextPage": true}}', ['style' => 'cursor', 'next' => '$.pageInfo.endCursor', 'send_as' => 'after', 'more' => '$.pageInfo.hasNextPage']],
    'continuation token' => ['{"value": R, "continuationToken": "1!8!MTA-"}', ['style' => 'cursor', 'next' => '$.continuationToken', 'send_as' => 'continuationToken']],
    'marker and truncation' => ['{"Objects": R, "IsTruncated": true, "NextMarker": "obj-10"}', ['style' => 'cursor', 'next' => '$.NextMarker', 'more' => '$.IsTruncated'], '/objects', [], ['marker', 'max-keys']],
    'NextToken' => ['{"Loans": R, "NextToken": "AAAA"}', ['style' => 'cursor', 'next' => '$.NextToken', 'send_as' => 'NextToken']],
    'scroll id' => ['{"_scroll_id": "DnF1ZXJ5", "hits": {"total": 300, "hits": R}}', ['style' => 'cursor', 'next' => '$._scroll_id'], '/search?size=10', [], ['scroll_id']],
    'bookmark' => ['{"docs": R, "bookmark": "g1AAAA"}', ['style' => 'cursor', 'next' => '$.bookmark', 'send_as' => 'bookmark'], '/find?limit=10', [], ['bookmark']],
    'links with a cursor inside meta' => ['{"data": R, "meta": {"cursor": {"current": null, "next": "abc123", "count": 10}}}', ['style' => 'cursor', 'next' => '$.meta.cursor.next']],
    'cursor beside the records, one page left' => ['{"loans": R, "cursor": "bG9", "more": true}', ['style' => 'cursor', 'next' => '$.cursor', 'send_as' => 'cursor', 'more' => '$.more']],
    'a whole number as token' => ['{"events": R, "next_id": 9127734, "has_more": true}', ['style' => 'cursor', 'next' => '$.next_id', 'more' => '$.has_more']],
    'a number as a text' => ['{"data": R, "next": "10", "has_more": true}', ['style' => 'cursor', 'next' => '$.next', 'more' => '$.has_more'], '/loans?limit=10'],
    'a number as a text, with nothing beside it' => ['{"data": R, "next": "10"}', ['style' => 'cursor', 'next' => '$.next', 'send_as' => 'after'], '/loans?limit=10'],
    'a number as a token, and a flag' => ['{"data": R, "next": 10, "has_more": true}', ['style' => 'cursor', 'next' => '$.next', 'more' => '$.has_more'], '/loans?limit=10'],
    'a number after a first cursor' => ['{"data": R, "next": 10}', ['style' => 'cursor', 'next' => '$.next', 'send_as' => 'after'], '/loans?after=0&limit=10'],
    'the documentation names the cursor' => ['{"data": R, "next": 10}', ['style' => 'cursor', 'next' => '$.next', 'send_as' => 'cursor'], '/loans?limit=10', [], ['cursor', 'limit']],
    'a number where an offset was sent' => ['{"data": R, "next": 10}', ['style' => 'offset', 'send_as' => 'offset'], '/loans?offset=0&limit=10'],
    'resumption token' => ['{"records": R, "resumptionToken": "0/10/300/x"}', ['style' => 'cursor', 'next' => '$.resumptionToken', 'send_as' => 'resumptionToken']],
    'token of a search that was posted' => ['{"results": R, "next_cursor": "x10", "has_more": true}', ['style' => 'cursor', 'in' => 'body', 'next' => '$.next_cursor'], '/search', [], [], 'POST'],
    'token of a next page in a member called nextPage' => ['{"content": R, "nextPage": "b3BhcXVl"}', ['style' => 'cursor', 'next' => '$.nextPage'], '/crates', [], ['pageCursor']],
    'the parameter is known' => ['{"list": R, "next": "tok_10"}', ['style' => 'cursor', 'next' => '$.next', 'send_as' => 'page_token'], '/list', [], ['page_token', 'limit']],
    'last evaluated key' => ['{"Items": R, "LastEvaluatedKey": "k-10"}', ['style' => 'cursor', 'next' => '$.LastEvaluatedKey'], '/items', [], ['ExclusiveStartKey']],

    // The last record as the cursor
    'has_more and ids, parameter known' => ['{"object": "list", "data": R, "has_more": true}', ['style' => 'cursor', 'from_last' => '$.id', 'send_as' => 'starting_after', 'more' => '$.has_more'], '/v1/loans?limit=10', [], ['limit', 'starting_after', 'ending_before']],
    'has_more and ids alone' => ['{"object": "list", "data": R, "has_more": true, "url": "/v1/loans"}', ['style' => 'cursor', 'from_last' => '$.id'], '/v1/loans'],

    // Addresses in the answer
    'next and previous' => ['{"count": 300, "next": "http://h.example/list?page=2", "previous": null, "results": R}', ['style' => 'next-link', 'link' => '$.next']],
    'relative next' => ['{"meta": {"limit": 10, "next": "/api/v1/list/?limit=10&offset=10", "offset": 0, "previous": null, "total_count": 300}, "objects": R}', ['style' => 'next-link', 'link' => '$.meta.next']],
    'links next' => ['{"data": R, "links": {"self": "http://h.example/list", "next": "http://h.example/list?page[number]=2"}}', ['style' => 'next-link', 'link' => '$.links.next']],
    'links next as an object' => ['{"data": R, "links": {"next": {"href": "/list?page=2"}}}', ['style' => 'next-link', 'link' => '$.links.next.href']],
    '_links next' => ['{"_embedded": {"crates": R}, "_links": {"self": {"href": "/crates"}, "next": {"href": "/crates?page=2"}}}', ['style' => 'next-link', 'link' => '$._links.next.href']],
    'odata next link' => ['{"@odata.context": "$metadata#Venues", "value": R, "@odata.nextLink": "Venues?$skiptoken=10"}', ['style' => 'next-link', 'link' => '$["@odata.nextLink"]']],
    'paging next' => ['{"data": R, "paging": {"previous": "http://h.example/a?until=1", "next": "http://h.example/a?since=10"}}', ['style' => 'next-link', 'link' => '$.paging.next']],
    'nextLink' => ['{"value": R, "nextLink": "https://h.example/list?skiptoken=10"}', ['style' => 'next-link', 'link' => '$.nextLink']],
    'next_page_url of a pager with everything' => ['{"current_page": 1, "data": R, "first_page_url": "http://h.example/l?page=1", "from": 1, "last_page": 30, "last_page_url": "http://h.example/l?page=30", "next_page_url": "http://h.example/l?page=2", "path": "http://h.example/l", "per_page": 10, "prev_page_url": null, "to": 10, "total": 300}', ['style' => 'next-link', 'link' => '$.next_page_url']],
    'nextRecordsUrl' => ['{"totalSize": 300, "done": false, "nextRecordsUrl": "/services/query/01g-10", "records": R}', ['style' => 'next-link', 'link' => '$.nextRecordsUrl']],
    'links as a list with relations' => ['{"items": R, "links": [{"rel": "self", "href": "/l"}, {"rel": "next", "href": "/l?start=10"}]}', ['style' => 'next-link', 'link' => "\$.links[?@.rel == 'next'].href"]],
    'next_uri in pagination' => ['{"pagination": {"limit": 10, "order": "desc", "next_uri": "/v2/a?starting_after=x"}, "data": R}', ['style' => 'next-link', 'link' => '$.pagination.next_uri']],
    'the only page of a linked list' => ['{"count": 3, "next": null, "previous": null, "results": R}', ['style' => 'next-link', 'link' => '$.next']],
    'the only page of a linked list, with empty texts' => ['{"count": 3, "next": "", "previous": "", "results": R}', ['style' => 'next-link', 'link' => '$.next']],
    'next in a bundle of links' => ['{"resourceType": "Bundle", "link": [{"relation": "self", "url": "http://h.example/a"}], "links": {"next": "http://h.example/a?page=2"}, "entry": R}', ['style' => 'next-link', 'link' => '$.links.next']],

    // The Link header
    'link header' => ['R', ['style' => 'link-header'], '/readings?per_page=10', ['link' => '<http://h.example/readings?page=2>; rel="next", <http://h.example/readings?page=30>; rel="last"']],
    'link header, relative, unquoted' => ['R', ['style' => 'link-header'], '/readings', ['link' => '</readings?after=10>; rel=next']],
    'link header beside a total' => ['R', ['style' => 'link-header'], '/readings', ['link' => '<?page=2>; rel="next last"', 'x-total-count' => '20']],
    'link header that is no paging' => ['R', null, '/readings', ['link' => '</style.css>; rel=preload; as=style']],
    'link header on the last page' => ['R', ['style' => 'link-header'], '/readings?page=3', ['link' => '<http://h.example/readings?page=1>; rel="first", <http://h.example/readings?page=2>; rel="prev"']],

    // Ranges
    'content range of items' => ['R', ['style' => 'range', 'unit' => 'items', 'size' => 10], '/positions', ['content-range' => 'items 0-9/640']],
    'content range, total unknown' => ['R', ['style' => 'range', 'unit' => 'positions'], '/positions', ['content-range' => 'positions 0-9/*']],
    'content range without a unit' => ['R', ['style' => 'range', 'unit' => 'items'], '/positions', ['content-range' => '0-9/640']],
    'accept ranges' => ['R', ['style' => 'range', 'unit' => 'users'], '/users', ['accept-ranges' => 'users']],
    'accept ranges of bytes is no paging' => ['R', null, '/file', ['accept-ranges' => 'bytes']],

    // Page numbers
    'page, pages, total' => ['{"tickets": R, "page": 1, "pages": 30, "total": 300}', ['style' => 'page', 'send_as' => 'page', 'pages' => '$.pages']],
    'meta with pagination' => ['{"data": R, "meta": {"pagination": {"total": 300, "count": 10, "per_page": 10, "current_page": 1, "total_pages": 30}}}', ['style' => 'page', 'send_as' => 'page', 'pages' => '$.meta.pagination.total_pages']],
    'page counted from 0' => ['{"content": R, "totalElements": 300, "totalPages": 30, "number": 0, "size": 10, "first": true, "last": false}', ['style' => 'page', 'send_as' => 'page', 'first' => 0, 'pages' => '$.totalPages']],
    'page object' => ['{"items": R, "page": {"size": 10, "totalElements": 300, "totalPages": 30, "number": 0}}', ['style' => 'page', 'send_as' => 'page', 'first' => 0, 'pages' => '$.page.totalPages']],
    'headers x-page' => ['R', ['style' => 'page', 'send_as' => 'page', 'pages' => 'x-total-pages'], '/list', ['x-page' => '1', 'x-total-pages' => '30', 'x-total' => '300']],
    'page_count and page_size' => ['{"page_count": 30, "page_number": 1, "page_size": 10, "total_records": 300, "crates": R}', ['style' => 'page', 'send_as' => 'page_number', 'pages' => '$.page_count', 'size_as' => 'page_size']],
    'next as the number after page' => ['{"loans": R, "page": 1, "next": 2, "has_more": true}', ['style' => 'page']],
    'next as the offset after this one' => ['{"loans": R, "offset": 0, "next": 10, "has_more": true}', ['style' => 'offset'], '/loans?limit=10'],
    'next_page as a number' => ['{"loans": R, "next_page": 2, "previous_page": null, "count": 300}', ['style' => 'page', 'send_as' => 'page']],
    'pageNumber and pageSize' => ['{"pageNumber": 1, "pageSize": 10, "totalCount": 300, "items": R}', ['style' => 'page', 'send_as' => 'pageNumber', 'total' => '$.totalCount', 'size_as' => 'pageSize']],
    'paging info as text' => ['{"page": "1", "per_page": "10", "total": "300", "results": R}', ['style' => 'page', 'send_as' => 'page', 'total' => '$.total']],
    'sent page with a total' => ['{"total": 300, "rows": R}', ['style' => 'page', 'send_as' => 'p', 'total' => '$.total'], '/rows?p=1&limit=10'],
    'array first, metadata beside' => ['{"info": {"count": 300, "pages": 30, "next": null, "prev": null, "page": 1}, "results": R}', ['style' => 'page', 'pages' => '$.info.pages']],
    'total count header and known parameter' => ['R', ['style' => 'page', 'send_as' => 'page', 'total' => 'x-total-count'], '/list', ['x-total-count' => '300'], ['page', 'per_page']],
    'full page of a bare list, parameter known' => ['R', ['style' => 'page', 'send_as' => 'page', 'size_as' => 'per_page'], '/list?per_page=10', [], ['page', 'per_page']],
    'current page of total pages' => ['{"currentPage": 1, "totalPages": 30, "records": R}', ['style' => 'page', 'pages' => '$.totalPages']],

    // Offsets
    'offset, limit, count' => ['{"treatments": R, "offset": 0, "limit": 10, "count": 310}', ['style' => 'offset', 'send_as' => 'offset', 'total' => '$.count', 'size_as' => 'limit']],
    'startAt and maxResults' => ['{"startAt": 0, "maxResults": 10, "total": 300, "issues": R}', ['style' => 'offset', 'send_as' => 'startAt', 'total' => '$.total', 'size_as' => 'maxResults']],
    'startIndex from 1' => ['{"totalResults": 300, "startIndex": 1, "itemsPerPage": 10, "Resources": R}', ['style' => 'offset', 'send_as' => 'startIndex', 'first' => 1, 'total' => '$.totalResults']],
    'skip and take known' => ['{"data": R, "total": 300}', ['style' => 'offset', 'send_as' => 'skip', 'size_as' => 'take', 'total' => '$.total'], '/data', [], ['skip', 'take']],
    'next_offset' => ['{"items": R, "next_offset": 10, "more_items_in_collection": true}', ['style' => 'offset', 'send_as' => 'offset']],
    'numFound and start' => ['{"response": {"numFound": 300, "start": 0, "docs": R}}', ['style' => 'offset', 'send_as' => 'start', 'total' => '$.response.numFound'], '/select?rows=10'],
    'pagination object' => ['{"pagination": {"limit": 10, "offset": 0, "total": 300}, "data": R}', ['style' => 'offset', 'send_as' => 'offset', 'total' => '$.pagination.total']],
    'full page with offset known' => ['R', ['style' => 'offset', 'send_as' => 'offset', 'size_as' => 'limit'], '/list?limit=10&offset=0'],

    // Parts
    'partitions of a statement' => ['{"handle": "h1", "meta": {"columns": [{"name": "a"}], "rows": 4200, "partitions": [{"number": 0, "rows": 1000}, {"number": 1, "rows": 1000}]}, "data": [[1], [2], [3]]}', ['style' => 'partition', 'list' => '$.meta.partitions[*]', 'value' => '$.number'], '/statements', [], [], 'POST'],
    'chunks by number' => ['{"rows": R, "chunks": [0, 1, 2]}', ['style' => 'partition', 'list' => '$.chunks[*]']],

    // A total alone
    'total and nothing else' => ['{"total": 300, "hits": R}', ['style' => 'page', 'total' => '$.total']],

    // No sign
    'a bare list' => ['R', null],
    'a list in a member' => ['{"data": R}', null],
    'a list with its own count' => ['{"count": 10, "items": R}', null],
    'a total that is all there is' => ['{"total": 10, "items": R}', null],
    'one record' => ['{"id": 7, "name": "Gull Tower", "page": "about", "next": "2031-03-01"}', null],
    'a record with lists of its own' => ['{"id": 7, "name": "Pilot\'s coat", "tags": ["a", "b"], "parts": [{"number": 1}, {"number": 2}]}', null],
    'a record with a link to another' => ['{"house": "north-quay", "next": "/houses/gull-tower"}', null],
    'words that look alike' => ['{"title": "Next exhibitions", "start": "2031-01-01", "end": "2031-02-01", "venues": R}', null],
    'a setting called limit' => ['{"limit": 5, "rules": R}', null],
    'a version and a size' => ['{"version": 2, "size": 10, "content": R}', null],
    'an error' => ['{"error": {"code": 3, "message": "no"}}', null],
    'no more' => ['{"data": R, "has_more": false}', null],
    'etag and friends' => ['R', null, '/list', ['etag' => '"x"', 'x-request-id' => '42', 'x-ratelimit-limit' => '600']],
    'rate limit headers and a bare list' => ['R', null, '/list', ['x-ratelimit-remaining' => '10', 'content-length' => '300']],
];
