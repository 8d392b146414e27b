<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * From the address of a service's metadata to a query over a table and its branch.
 */
final class ODataTest extends BrowserTestCase
{
    public function test_a_service_is_connected_browsed_chosen_from_kept_and_queried(): void
    {
        $person = $this->builder();
        $person->go('/sources/new')->type('#start', $this->standins().'/registrar/v4/$metadata')->type('#name', 'Museum register')->press('Add the source')->see('so it can describe itself')->see('401');
        $person->press('Add user name and password')->type('#access-0-username', 'circle')->choose('#secret_name', 'password')->type('#secret_value', 'rg-demo-lamp-and-oar')->click('#set-secret')->see('set by Ines Varga');
        $person->tryIt()->see('works in Trial');
        $person->press('Choose from what it offers')->see('Its metadata has not been read yet')->press('Read the metadata')->see('The houses of the Circle');
        $person->press('Count all of these')->see('930')->see('803');
        $person->type('#q', 'exhib')->keys(WebDriverKeys::ENTER)->see('1–1 of 1 set')->press('Exhibitions');
        $person->see('Related sets')->press('Look at 20 rows')->see('at most 20 rows were asked for');
        $person->press('Read it: choose columns and rows')->see('What you choose from Exhibitions')->rest();

        // A condition that cannot be, then one that can; each change is answered with the address.
        $person->choose('#level-0-c0-path', 'Opens')->see('Give a value')->rest();
        // Changed while the answer to what was chosen is on its way: the one that had to wait is saved as well.
        $person->driver->executeScript('for (const [id, value] of [["level-0-c0-operator", "le"], ["level-0-c0-value", "2.2.2032"]]) { const field = document.getElementById(id); field.value = value; field.dispatchEvent(new Event("input", {bubbles: true})); field.dispatchEvent(new Event("change", {bubbles: true})); }');
        $person->see('"2.2.2032" is no Edm.Date')->rest();
        // Typed while it is.
        $person->choose('#level-0-c0-operator', 'ge')->type('#level-0-c0-value', '1.1.2031')->keys(WebDriverKeys::TAB)->see('is no Edm.Date')->rest();
        self::assertSame(['1.1.2031', 'ge'], [$person->one('#level-0-c0-value')->getAttribute('value'), $person->one('#level-0-c0-operator')->getAttribute('value')]);
        $person->type('#level-0-c0-value', '2031-01-01')->keys(WebDriverKeys::TAB);
        $person->wait(static fn (): bool => str_contains($person->one('#address')->getText(), '$filter=Opens ge 2031-01-01'), 'the filter in the address');
        $person->rest()->click('#level-0-expand-1');
        $person->wait(static fn (): bool => str_contains($person->one('#address')->getText(), '$expand=Objects'), 'the objects in the address');
        $person->rest()->choose('#level-0-o0-by', 'Title');
        $person->wait(static fn (): bool => str_contains($person->one('#address')->getText(), '$orderby=Title'), 'the order in the address');
        $person->rest()->tryIt()->see('asked with $top=20')->see('museum_register_exhibitions_objects');

        // Another one, which is published along and not kept.
        $person->go('/sources/museum-register/service/Couriers')->see('cannot be counted')->press('Read it: choose columns and rows')->see('What you choose from Couriers');

        $person->go('/sources/museum-register/endpoints/museum-register-exhibitions')->see('From Exhibitions')->tryIt()->see('tried just now')->rest()->click('#keep');
        $person->wait(static fn (): bool => str_contains($person->go('/tables')->text(), 'museum_register_exhibitions_objects'), 'the tables', 40);
        $sql = "select e.title, count(*) as shown from museum_register_exhibitions e join museum_register_exhibitions_objects o on o.museum_register_exhibition_id = e.id where e.opens >= '2031-01-01' group by e.title order by e.title";
        $person->go('/queries/new')->see('Tables in Trial')->rest()->click('.cm-content');
        $person->keys($sql, WebDriverKeys::ESCAPE);
        $person->tryIt()->see('shown')->see('rows in');
        $person->go('/queries/new')->see('Not kept, read when asked for')->rest()->click('.cm-content');
        $person->keys('select name, mileage from couriers where mileage > 1000000 order by mileage desc limit 3', WebDriverKeys::ESCAPE);
        $person->tryIt()->see('is not kept: 3 rows were read')->see('Asked of the service: mileage > 1000000, order by mileage desc, limit 3');
        $person->go('/sources/museum-register/service')->see('Endpoints here');
        $person->driver->executeScript('window.scrollTo(0, 0)');
    }
}
