<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * Ways in, as a person goes them: a consent, a source that is mended by what is offered, a secret
 * that is replaced.
 */
final class AccessTest extends BrowserTestCase
{
    public function test_a_consent_is_declined_once_and_given_then(): void
    {
        $person = $this->builder();
        $person->go('/sources/box-office')->see('Nobody has agreed yet')->see('/consent/return')
            ->click('#consent-0')->see('See how many tickets were sold')->click('#deny')
            ->see('The sign-in was declined at the service.');
        self::assertStringContainsString('/sources/box-office', $person->driver->getCurrentURL());
        $person->go('/sources/box-office/endpoints/tickets')->tryIt()->see('Sign in at the service under Authentication');
        $person->press('Open Authentication')->click('#consent-0')->see('See how many tickets were sold')->click('#allow')
            ->see('The service agreed')->see('consent given');
        $person->go('/sources/box-office/endpoints/tickets')->tryIt()->see('200 records in the first answer')->see('tried just now');
        $person->go('/sources')->see('Box office');
        self::assertStringNotContainsString('waits for consent', $person->text());
        $person->go('/sources/box-office')->press('Revoke and forget')->see('Nobody has agreed yet');
        self::assertSame([], $person->complaints());
    }

    public function test_a_failing_source_is_mended_by_the_repairs_that_are_offered(): void
    {
        $person = $this->builder();
        $base = $this->standins();
        $person->go('/sources/new')->type('#start', "curl -H 'X-Api-Token: \"Bearer dr-demo-2b9f61c07ae4d853\"' '$base/doors/key?house=hq'")->type('#name', 'Doors to mend')->press('Add the source')
            ->see('not see your key');
        $says = static fn (string $text): \Closure => static fn (): bool => str_contains($person->one('.diagnosis strong')->getText(), $text);
        $person->wait($says('begins with "Bearer "'), 'the first diagnosis');
        $person->click('[data-repair]')->wait($says('It names the header X-Door-Key'), 'the second diagnosis');
        $person->click('[data-repair]')->see('1 record');
        self::assertStringContainsString('ok', (string) $person->one('#node-ask')->getAttribute('class'));
        self::assertStringNotContainsString('dr-demo-2b9f61c07ae4d853', (string) $person->driver->getPageSource());

        // An endpoint is mended on its own sheet, and stays a draft until it is published.
        $person->type('#path', '/doors/key/')->tryIt()->see('ends in a slash')->click('[data-repair]')->wait(static fn (): bool => $person->one('#path')->getAttribute('value') === '/doors/key', 'the path without its slash');
        $person->see('tried just now');
        self::assertSame([], $person->complaints());
    }

    public function test_an_address_is_looked_at_while_it_is_typed_and_taken_by_one_click(): void
    {
        $person = $this->builder();
        $person->go('/sources/new')->type('#start', 'loans.saltmarsh.example/v2/')->see('The scheme is missing.')->press('Take https://loans.saltmarsh.example/v2');
        self::assertStringStartsWith('https://loans.saltmarsh.example/v2', (string) $person->one('#start')->getAttribute('value'));
        $person->type('#start', 'http://db.saltmarsh.example:5432')->see('looks like the host of a database');
    }

    public function test_a_token_is_given_with_the_keyboard_alone(): void
    {
        $person = $this->builder();
        $person->go('/sources/new')->type('#start', $this->standins().'/doors/bearer')->type('#name', 'Doors by keyboard')->press('Add the source')->see('401')->rest();
        // What is added has the focus, and the field of its value sets it.
        $person->press('Add a bearer token');
        $person->wait(static fn (): bool => $person->driver->executeScript('return document.activeElement.id') === 'secret_value', 'the field of the new secret, with the focus on it');
        self::assertSame('token', $person->one('#secret_name')->getAttribute('value'));
        $person->keys('dr-demo-2b9f61c07ae4d853')->tryIt()->see('set by Ines Varga')->rest()->tryIt()->see('works in Trial');
        self::assertStringNotContainsString('dr-demo-2b9f61c07ae4d853', (string) $person->driver->getPageSource());
    }

    public function test_a_secret_that_the_service_refuses_does_not_take_the_place_of_the_old_one(): void
    {
        $person = $this->builder();
        $person->go('/sources/freight-tracker')->tryIt()->see('just now')->see('expected response');
        $person->choose('#secret_name', 'key')->type('#secret_value', 'ft-wrong-0000000000')->click('#set-secret')->see('so the old one is still in use')->see('refused');
        $person->press('Keep the old one')->wait(static fn (): bool => ! str_contains($person->text(), 'still in use'), 'the old one being kept');
        $person->tryIt()->see('Authenticated.');
        self::assertSame([], $person->complaints());
    }
}
