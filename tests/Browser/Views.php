<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * The main views of the demo, for whoever looks at all of them.
 */
final class Views
{
    public const BUILDER = [
        '/', '/sources', '/sources/new', '/sources/loans-desk', '/sources/box-office', '/sources/freight-tracker', '/environments', '/sources/loans-desk/file',
        '/sources/loans-desk/endpoints/new', '/sources/loans-desk/endpoints/loans', '/sources/loans-desk/endpoints/loan', '/tables', '/tables/loans', '/tables/loan_items?indexes=1', '/tables/loans/change', '/tables/loans/change/bulk', '/sources/loans-desk/endpoints/loans/change', '/journal', '/tables/loans/history', '/tables/loans/profile', '/tables/loans/origin?row=WyI3NjEzIl0&column=town', '/queries', '/queries/1',
        '/queries/new', '/runs', '/schedule', '/schedule?span=week', '/outlets', '/outlets/1', '/outlets/1/documentation', '/outlets/1/requests', '/outlets/readers/1', '/outlets/door', '/outlets/values', '/outlets/file', '/notes', '/notes?state=all', '/notes/1', '/notes/following', '/runs/1', '/find?q=loan', '/sources/loans-desk/endpoints/loans/compare', '/sources/registrar/endpoints/objects/checks', '/sources/freight-tracker/endpoints/consignment/lookup', '/sources/loans-desk/endpoints/create-loan',
        '/sources/loans-desk/endpoints/loans/tries', '/tries/1', '/tries/1/1/raw?q=loan', '/sources/loans-desk/versions', '/sources/loans-desk/endpoints/loans/shape',
        '/runs/1/rejects', '/sources/registrar-odata/service', '/sources/registrar-odata/service/Objects', '/sources/registrar-odata/endpoints/exhibitions/choice', '/account', '/nowhere',
    ];

    public const ADMINISTRATOR = ['/people', '/people/log', '/outbound'];

    /** With nothing in them. */
    public const EMPTY = ['/sources?q=nothing-has-this-name', '/tables?q=nothing-has-this-name', '/queries?q=nothing-has-this-name', '/outlets?q=nothing-has-this-name', '/runs?q=nothing-has-this-name', '/journal?q=nothing-has-this-name', '/tables/loans/change?q=nothing-has-this-name', '/notes?q=nothing-has-this-name', '/find?q=nothing-has-this-name'];
}
