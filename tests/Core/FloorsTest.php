<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * The rooms of core/ and app/ stand on floors. A room uses rooms below it, and rooms beside it in one
 * direction only, so no circle of rooms can arise. This is the one place where the floors are written down.
 */
final class FloorsTest extends TestCase
{
    private const CORE = [
        10 => ['Catalog'],
        9 => ['Describe', 'Share', 'Export', 'Suggest', 'Indexing', 'Change'],
        8 => ['SourceFile'],
        7 => ['Diagnose'],
        6 => ['Onward', 'Pace', 'Increment', 'Check'],
        5 => ['Ask', 'Feed'],
        4 => ['Access', 'Outbound', 'OData', 'History'],
        3 => ['Flatten'],
        2 => ['Expression'],
        1 => ['Answer', 'Schedule', 'Note', 'Sql'],
        0 => ['Value', 'Identity', 'Docs', 'Chart'],
    ];

    private const APP = [
        9 => ['Providers', 'Local'],
        8 => ['Console'],
        7 => ['Http'],
        6 => ['View', 'Operations', 'Outlets'],
        5 => ['Sources', 'OData', 'Imports', 'Changes', 'Queries', 'People', 'Environments', 'Notes'],
        4 => ['Runs', 'Schedules'],
        3 => ['Pipeline'],
        2 => ['Reservoir', 'Transport', 'Access', 'Pace', 'Evidence'],
        1 => ['Secrets', 'Audit'],
        0 => ['Models', 'Policies'],
    ];

    /**
     * @return iterable<string, array{string, string, array<int, list<string>>}>
     */
    public static function houses(): iterable
    {
        yield 'core' => ['core', 'DeepSpring', self::CORE];
        yield 'app' => ['app', 'App', self::APP];
    }

    /**
     * @param  array<int, list<string>>  $floors
     */
    #[DataProvider('houses')]
    public function test_a_room_uses_only_what_stands_below_it(string $folder, string $namespace, array $floors): void
    {
        $floor = [];
        foreach ($floors as $number => $rooms) {
            $floor += array_fill_keys($rooms, $number);
        }
        $uses = $this->uses($folder, $namespace);
        self::assertEqualsCanonicalizing(array_map(basename(...), (array) glob(dirname(__DIR__, 2)."/$folder/*", GLOB_ONLYDIR)), array_keys($floor), 'Every room has its floor.');
        self::assertGreaterThan(20, count($uses));
        foreach ($uses as $tie => $where) {
            [$from, $to] = explode(' → ', $tie);
            self::assertTrue($floor[$from] >= $floor[$to], "$from, on floor {$floor[$from]}, uses $to, on floor {$floor[$to]}: $where.");
            self::assertFalse($floor[$from] === $floor[$to] && isset($uses["$to → $from"]), "$from and $to stand beside each other and use each other: $where, and ".($uses["$to → $from"] ?? '').'.');
        }
    }

    /**
     * @param  array<int, list<string>>  $floors
     */
    #[DataProvider('houses')]
    public function test_a_room_says_what_it_is_for(string $folder, string $namespace, array $floors): void
    {
        foreach (array_merge(...$floors) as $room) {
            $readme = dirname(__DIR__, 2)."/$folder/$room/README.md";
            self::assertFileExists($readme);
            preg_match_all('/`([A-Z]\w+(?:[\/\\\\][A-Z]\w+)*)(?:::\w+(?:\(\))?|\(\))?`/', (string) file_get_contents($readme), $named);
            foreach ($named[1] as $name) {
                $path = strtr($name, ['\\' => '/']);
                $isThere = glob(dirname($readme)."/{,*/,*/*/}$path{.php,}", GLOB_BRACE) !== [] || glob(dirname($readme, 2)."/{,*/,*/*/}$path{.php,}", GLOB_BRACE) !== [];
                self::assertTrue($isThere, "$folder/$room/README.md names $name, which does not exist.");
            }
        }
    }

    /**
     * @return array<string, string> "room → room" → the first file and class that tie them
     */
    private function uses(string $folder, string $namespace): array
    {
        $root = dirname(__DIR__, 2);
        $uses = [];
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator("$root/$folder", \FilesystemIterator::SKIP_DOTS)) as $file) {
            if (! $file instanceof \SplFileInfo || $file->getExtension() !== 'php') {
                continue;
            }
            $path = substr($file->getPathname(), strlen("$root/$folder/"));
            $room = strstr($path, '/', true);
            foreach (\PhpToken::tokenize((string) file_get_contents($file->getPathname())) as $token) {
                $isName = $token->is([T_NAME_QUALIFIED, T_NAME_FULLY_QUALIFIED]);
                $isDoc = $token->is(T_DOC_COMMENT);
                if (! $isName && ! $isDoc) {
                    continue;
                }
                preg_match_all('/(?<![\w\\\\])\\\\?'.$namespace.'\\\\(\w+)\\\\\w+/', $token->text, $names, PREG_SET_ORDER);
                foreach ($names as [$name, $other]) {
                    if ($room !== false && $other !== $room) {
                        $uses["$room → $other"] ??= "$folder/$path names $name";
                    }
                }
            }
        }

        return $uses;
    }
}
