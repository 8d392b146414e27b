<?php

declare(strict_types=1);

namespace App\Local;

/**
 * The suites mixed file by file, so that the processes which work through them do not all drive a browser
 * at first, and all wait for services afterwards.
 */
final readonly class MixedSuites
{
    public const NAME = 'mixed';

    public function __construct(private string $root)
    {
    }

    /**
     * Writes a configuration of PHPUnit like that of the project, with one suite.
     *
     * @param  list<string>  $suites  names of suites that are mixed
     */
    public function write(array $suites, string $file): void
    {
        $document = new \DOMDocument;
        $document->load("$this->root/phpunit.xml");
        $top = $document->documentElement ?? throw new Trouble('phpunit.xml is empty.');
        foreach (['bootstrap', 'cacheDirectory'] as $path) {
            $top->setAttribute($path, "$this->root/{$top->getAttribute($path)}");
        }
        $all = [];
        foreach ($document->getElementsByTagName('testsuite') as $suite) {
            if (in_array($suite->getAttribute('name'), $suites, true)) {
                foreach ($suite->getElementsByTagName('directory') as $directory) {
                    $all[] = $this->files("$this->root/".trim($directory->textContent));
                }
            }
        }
        $mixed = $document->createElement('testsuite');
        $mixed->setAttribute('name', self::NAME);
        foreach (self::mixed($all) as $path) {
            $mixed->appendChild($document->createElement('file', $path));
        }
        $holder = $document->getElementsByTagName('testsuites')->item(0) ?? throw new Trouble('phpunit.xml names no suites.');
        while ($holder->firstChild !== null) {
            $holder->removeChild($holder->firstChild);
        }
        $holder->appendChild($mixed);
        $document->save($file);
    }

    /**
     * Each list from its beginning to its end, spread over the whole.
     *
     * @param  list<list<string>>  $lists
     * @return list<string>
     */
    public static function mixed(array $lists): array
    {
        $places = [];
        foreach ($lists as $list) {
            foreach ($list as $number => $one) {
                $places[$one] = ($number + 0.5) / count($list);
            }
        }
        asort($places);

        return array_map(strval(...), array_keys($places));
    }

    /**
     * @return list<string> the largest first, which mostly takes longest, so that no process is left alone with it at the end
     */
    private function files(string $directory): array
    {
        $files = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($directory, \FilesystemIterator::SKIP_DOTS)) as $file) {
            if (str_ends_with((string) $file, 'Test.php')) {
                $files[] = (string) $file;
            }
        }
        usort($files, static fn (string $one, string $other): int => [filesize($other), $one] <=> [filesize($one), $other]);

        return $files;
    }
}
