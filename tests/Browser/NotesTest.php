<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * What is wrong is told, put aside, followed, and over when it is mended.
 */
final class NotesTest extends BrowserTestCase
{
    private function stores(string $faults): void
    {
        file_get_contents($this->standins().'/stores/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: text/plain', 'content' => $faults]]));
    }

    protected function tearDown(): void
    {
        $this->stores('{}');
        parent::tearDown();
    }

    public function test_a_failing_refresh_is_told_put_aside_taken_back_and_over(): void
    {
        $person = $this->builder();
        $person->go('/notes/following')->see('What you follow')->one('input[value=post]')->click();
        $person->type('#address', $this->standins().'/post-room/hooks/browser');
        $person->one('#follow button.go')->click();
        $person->see('It is not shown again')->see('POST to');
        $person->press('Send a test')->see('The test arrived.')->see('It answered 204');
        $this->stores('{"page_as": "p"}');
        $person->go('/tables/positions')->press('Refresh')->see('ignores "page"')->go('/notes')->see('Page 2 holds the same records as page 1')->see('Readers see the');
        self::assertSame('Shelf positions', trim($person->one('table.notes tbody tr td:nth-child(2) a')->getText()));
        $person->one('table.notes tbody tr td:nth-child(2) a')->click();
        $person->see('What would help')->choose('#until', 'week')->one('#aside button')->click();
        $person->see('is put aside.');
        self::assertStringNotContainsString('Page 2 holds', $person->text());
        $person->go('/')->see('Needs a look');
        self::assertStringNotContainsString('Page 2 holds', $person->text());
        $person->see('refresh failed')->go('/notes?state=aside')->see('put aside')->one('table.notes tbody tr td:nth-child(2) a')->click();
        $person->see('by Ines Varga')->press('Take it back')->go('/')->see('Page 2 holds the same records');
        $person->go('/tables/positions')->see('Page 2 holds')->see('Open the note');
        // It is posted by itself, by the scheduler.
        $came = fn (): array => array_values(array_filter((array) json_decode((string) file_get_contents($this->standins().'/post-room/came'), true), static fn (array $one): bool => ($one['path'] ?? '') === '/hooks/browser'));
        $person->wait(static fn (): bool => count($came()) >= 2, 'the post', 60);
        self::assertStringContainsString('Page 2 holds the same records', (string) $came()[1]['body']);
        $this->stores('{}');
        $person->go('/tables/positions')->press('Refresh')->see('8 pages, 640 records')->go('/notes?state=closed')->see('over');
        $person->wait(static fn (): bool => count($came()) >= 3, 'the word that it is over', 60);
        self::assertSame('Shelf positions', json_decode((string) $came()[2]['body'], true)['data']['closed'][0]['title']);
        $person->go('/notes/following')->press('Stop')->see('You follow nothing yet');
        self::assertSame([], $person->complaints());
    }
}
