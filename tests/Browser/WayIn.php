<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * From something pasted to rows that answer SQL, with what is pressed counted.
 */
final class WayIn
{
    public int $presses = 0;

    private function __construct(private readonly Person $person)
    {
    }

    /**
     * Begins with the form empty and ends with rows of the table on the screen.
     *
     * @param  string|null  $set  of an OData service, to be chosen from what it offers
     * @return array{presses: int, seconds: float, table: string}
     */
    public static function go(Person $person, string $pasted, string $slug, ?string $set = null): array
    {
        $way = new self($person);
        $person->go('/sources/new')->type('#start', $pasted)->type('#slug', $slug);
        $begun = microtime(true);
        $way->press('Add the source', 'What happened', $set === null ? null : 'What the service offers');
        if ($set !== null) {
            $way->clicked("#take-$set")->see('What happened');
        }
        $table = $person->one('#t0-table')->getAttribute('value') ?? '';
        $set === null ? $way->press('Keep as table', 'Query it') : $way->clicked('#keep')->see('Query it');
        $way->press('Query it', ' rows in ');

        return ['presses' => $way->presses, 'seconds' => microtime(true) - $begun, 'table' => $table];
    }

    private function press(string $words, string $then, ?string $instead = null): void
    {
        $this->presses++;
        $this->person->press($words)->see($instead ?? $then);
    }

    private function clicked(string $css): Person
    {
        $this->presses++;
        $this->person->driver->executeScript('document.querySelector(arguments[0]).scrollIntoView({block: "center"})', [$css]);

        return $this->person->click($css);
    }
}
