<?php

declare(strict_types=1);

/*
 * Takes the pictures of docs/screenshots/ at 1280×800, as the builder and, for queries, the analyst.
 */

use Tests\Browser\Person;

require __DIR__.'/../../vendor/autoload.php';

$folder = $argv[1];
$password = (string) getenv('SPRING_DEMO_BUILDER');
// With the change that it stands for, as typing it would make it.
$set = static fn (Person $person, string $css, string $value): mixed => $person->driver->executeScript('const one = document.querySelector(arguments[0]); one.value = arguments[1]; one.dispatchEvent(new Event("change", {bubbles: true}));', [$css, $value]);

$person = Person::arrive((string) getenv('SPRING_DRIVER'), (string) getenv('APP_URL'));
try {
    $person->signIn('ines@saltmarsh.example', $password)->picture("$folder/watershed.png");
    $person->go('/sources/loans-desk')->tryIt()->see('just now')->rest()->picture("$folder/source.png");
    $person->go('/sources/freight-tracker')->see('expected response');
    $set($person, '#access-1-name', 'X-Api-Token');
    $person->see('Changed since the test')->tryIt()->see('The service did not see your key')->rest()->picture("$folder/access-failure.png");
    $person->click('[data-repair]')->see('Authenticated.');
    $person->go('/sources/box-office')->click('#consent-0')->see('would like to')->click('#deny')->see('The sign-in was declined');
    $person->go('/sources/loans-desk/endpoints/loans')->tryIt()->see('tried just now')->rest()->picture("$folder/endpoint.png");
    // A request that was pasted a moment ago, with what its answer suggests; the documentation beside it.
    $person->go('/sources/new')->type('#start', "curl '".getenv('SPRING_STANDINS')."/tide-tables/v1/tides?key=tt-demo-2f9b6d03c1e874a5&size=60'")->press('Add the source')->see('Set up from the first answer')->press('Documentation')->see('Nothing is kept yet')
        ->type('#docs-page-text', getenv('SPRING_STANDINS').'/tide-tables/')->press('Keep it')->see('High and low water')->rest();
    $person->driver->executeScript('scrollTo(0, 0)');
    $person->picture("$folder/suggested.png");
    $person->click('[data-docs-close]');
    $person->go('/sources/loans-desk/endpoints/loans/shape')->see('everything fits')->rest();
    $person->driver->executeScript('document.querySelector("#t0-c7-type").focus({preventScroll: true})');
    $person->rest()->picture("$folder/flatten.png");
    $person->go('/sources/loans-desk/endpoints/loan')->type('#path', '/loan/{id}')->tryIt()->see('There is nothing at')->rest();
    $person->type('#path', '/loans/{id}')->tryIt()->see('TH-8812')->see('200');
    $person->go('/sources/loans-desk/endpoints/create-loan')->type('#in-5-value', '004711')->type('#in-6-value', '1250.50')->see('"value":1250.50')->tryIt()->see('Send it once')->rest();
    $person->go('/sources/new')->type('#start', getenv('SPRING_STANDINS').'/stores/openapi.json')->press('Add the source')->see('Corrected while reading')->picture("$folder/import.png");
    $person->go('/sources/registrar-odata/service/Objects')->rest();
    $person->driver->executeScript('document.querySelector("main [hx-target=\'#rows\']").click()');
    $person->see('at most 20 rows were asked for');
    $person->go('/sources/registrar-odata/endpoints/exhibitions/choice')->rest();
    $set($person, '#level-0-c0-path', 'Objects/Value');
    $person->see('Give a value')->rest()->type('#level-0-c0-value', '80000')->keys(\Facebook\WebDriver\WebDriverKeys::TAB)->rest();
    $set($person, '#level-0-c0-operator', 'gt');
    $person->see('Objects/any(')->rest()->tryIt()->see('asked with')->rest()->picture("$folder/choice.png");
    $person->go('/sources/freight-tracker/endpoints/consignment/lookup')->click('#try-rows')->see('5 rows: 4 asked', 30)->rest()->picture("$folder/lookup.png");
    // One rule is broken by what is there.
    $person->go('/sources/registrar/endpoints/objects/checks')->see('Proposed from', 30)->choose('#add-kind', 'range')->click('#add-check')->rest();
    $set($person, '#check-5-range', 'value');
    $person->type('#check-5-at_most', '5000')->press('Keep in the draft')->see('above 5000', 30)->click('#tried-5 summary')->rest()->picture("$folder/checks.png");
    $person->go('/tables/loan_items?indexes=1')->see('measured with')->rest()->picture("$folder/table.png");
    $person->go('/tables/loans/origin?row='.rtrim(base64_encode('["7613"]'), '=').'&column=town')->see('stood there as')->rest()->picture("$folder/origin.png");
    // A feed that was asked for, once in vain.
    $person->go('/outlets/1/documentation')->press('Ask')->see('→ 200,')->type('#try-order', 'due desc')->press('Ask')->see('desc&')->type('#try-order', 'dues')->press('Ask')->see('→ 400,');
    $person->go('/outlets/1')->see('For whom')->rest()->picture("$folder/feed.png");
    // Two states of a table, one loan apart.
    $states = static fn (int $many): mixed => $person->wait(static fn (): bool => count($person->go('/tables/loans/history')->all('[aria-label="States"] tbody tr')) === $many, "$many states");
    $person->go('/sources/loans-desk/endpoints/loans')->choose('#history-kind', 'snapshots')->see('as many as')->rest()->press('Publish and refresh');
    $states(1);
    $person->go('/sources/loans-desk/endpoints/create-loan')->type('#in-5-value', '004711')->type('#in-6-value', '1250.50')->tryIt()->press('Send it once')->see('201');
    $person->go('/tables/loans')->press('Refresh')->see('loans');
    $states(2);
    $person->rest()->picture("$folder/history.png");
    // A refresh that fails, and who is told of it.
    $stores = static fn (string $faults): mixed => file_get_contents(getenv('SPRING_STANDINS').'/stores/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: text/plain', 'content' => $faults]]));
    $stores('{"page_as": "p"}');
    $person->go('/tables/positions')->press('Refresh')->see('ignores "page"');
    $stores('{}');
    $person->go('/notes')->see('Page 2 holds')->rest()->picture("$folder/notes.png");
    // A run in the middle, at a pace and with refusals that leave something to see.
    file_get_contents(getenv('SPRING_STANDINS').'/crate-loggers/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: text/plain', 'content' => '{"storm": {"503": 0.12, "slow": 0.3}}']]));
    $person->go('/sources/crate-loggers')->type('#per_minute', '110')->type('#at_once', '3')->keys(\Facebook\WebDriver\WebDriverKeys::TAB)->see('110 requests a minute, 3 at once');
    $person->go('/sources/crate-loggers/endpoints/readings')->press('Publish and refresh')->see('reading')->press('The whole run')->see('so far');
    $person->wait(static fn (): bool => (int) $person->driver->executeScript('return document.querySelector("#run-progress .figures dd")?.innerText ?? 0') >= 12, 'twelve pages', 60);
    $person->picture("$folder/run.png");
} finally {
    $person->leave();
}

$person = Person::arrive((string) getenv('SPRING_DRIVER'), (string) getenv('APP_URL'));
try {
    $person->signIn('tomas@saltmarsh.example', (string) getenv('SPRING_DEMO_ANALYST'))->go('/queries/1')->tryIt()->see('rows in')->press('Draw a chart')->see('of all')->click('#building summary')->see('Add a column')->rest();
    $person->driver->executeScript('window.scrollTo(0, 0)');
    $person->picture("$folder/query.png");
    // Cells that are changed, one of which does not fit, and what would be sent.
    $person->go('/tables/loans/change?sort=loan_id&dir=desc&q=NQ-87')->rest();
    foreach ([[1, 'due', '2031-04-30'], [2, 'note', 'Light below 40 lux'], [3, 'due', 'soon']] as [$row, $column, $text]) {
        $cell = "#grid tbody tr:nth-child($row) [data-column=$column]";
        $person->click($cell)->keys(\Facebook\WebDriver\WebDriverKeys::F2)->keys($text)->keys(\Facebook\WebDriver\WebDriverKeys::ENTER);
        $person->wait(static fn (): bool => $person->one($cell)->getAttribute('data-typed') === $text, "$column is kept");
    }
    $person->see('3 pending')->see('PATCH /loans-desk/v2/loans/')->rest()->picture("$folder/change.png");
} finally {
    $person->leave();
}

$person = Person::arrive((string) getenv('SPRING_DRIVER'), (string) getenv('APP_URL'));
try {
    $person->signIn('maren@saltmarsh.example', (string) getenv('SPRING_DEMO_ADMINISTRATOR'));
    // Last of all, since it changes what the demo does.
    require __DIR__.'/schedules.php';
    $person->go('/schedule')->see('Loans out, newest first')->rest()->picture("$folder/schedule.png");
} finally {
    $person->leave();
}
