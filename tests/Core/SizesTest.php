<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * A class has at most 300 lines and a method at most 50. One that has more says in its docblock why it
 * is in one piece.
 */
final class SizesTest extends TestCase
{
    private const CLASS_LINES = 300;

    private const METHOD_LINES = 50;

    private const REASON = 'In one piece, since ';

    /**
     * @return iterable<string, array{class-string}>
     */
    public static function classes(): iterable
    {
        foreach (['core' => 'DeepSpring', 'app' => 'App'] as $folder => $namespace) {
            $root = dirname(__DIR__, 2)."/$folder";
            foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($root, \FilesystemIterator::SKIP_DOTS)) as $file) {
                $name = $namespace.'\\'.strtr(substr((string) $file, strlen($root) + 1, -4), '/', '\\');
                if (str_ends_with((string) $file, '.php') && preg_match('/^(?:(?:final|abstract|readonly) )*(?:class|interface|trait|enum) /m', (string) file_get_contents((string) $file)) === 1) {
                    yield $name => [$name];
                }
            }
        }
    }

    /**
     * @param  class-string  $name
     */
    #[DataProvider('classes')]
    public function test_what_is_long_says_why(string $name): void
    {
        $class = new \ReflectionClass($name);
        self::assertTrue(self::lines($class) <= self::CLASS_LINES || str_contains((string) $class->getDocComment(), self::REASON), "$name has ".self::lines($class).' lines.');
        foreach ($class->getMethods() as $method) {
            if ($method->getFileName() === $class->getFileName()) {
                self::assertTrue(self::lines($method) <= self::METHOD_LINES || str_contains((string) $method->getDocComment(), self::REASON), "$name::{$method->getName()} has ".self::lines($method).' lines.');
            }
        }
    }

    public function test_all_are_looked_at(): void
    {
        self::assertGreaterThan(750, iterator_count(self::classes()));
    }

    /**
     * @param  \ReflectionClass<object>|\ReflectionMethod  $of
     */
    private static function lines(\ReflectionClass|\ReflectionMethod $of): int
    {
        return (int) $of->getEndLine() - (int) $of->getStartLine() + 1;
    }
}
