<?php

declare(strict_types=1);

namespace Tests\Core\Value;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\BeyondBounds;
use DeepSpring\Value\YamlText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class YamlTextTest extends TestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function bombs(): iterable
    {
        foreach (['list' => ['[%s]', '*%s'], 'map' => ['{%s}', 'k%2$d: *%1$s']] as $kind => [$around, $one]) {
            $text = "a0: &a0 [x, x, x, x, x, x, x, x, x]\n";
            for ($level = 1; $level <= 10; $level++) {
                $text .= "a$level: &a$level ".sprintf($around, implode(', ', array_map(static fn (int $number): string => sprintf($one, 'a'.($level - 1), $number), range(1, 9))))."\n";
            }
            yield "ten levels of aliases in a $kind" => [$text];
        }
        $block = "a0: &a0\n  - x\n  - x\n";
        for ($level = 1; $level <= 24; $level++) {
            $block .= "a$level: &a$level\n  - *a".($level - 1)."\n  - *a".($level - 1)."\n";
        }
        yield 'aliases of two, many levels deep' => [$block];
        yield 'a deep flow' => ['a: '.str_repeat('[', 5000).str_repeat(']', 5000)];
        $steps = '';
        for ($depth = 0; $depth < 2000; $depth++) {
            $steps .= str_repeat(' ', $depth)."a:\n";
        }
        yield 'a staircase' => [$steps];
        yield 'too many bytes' => ['a: "'.str_repeat('x', 5 << 20).'"'];
    }

    #[DataProvider('bombs')]
    public function test_a_file_is_refused_with_a_sentence_within_seconds_and_little_memory(string $text): void
    {
        memory_reset_peak_usage();
        $before = memory_get_usage();
        try {
            YamlText::parse($text);
            self::fail('It was read.');
        } catch (BeyondBounds|\Symfony\Component\Yaml\Exception\ParseException $refused) {
            self::assertNotSame('', $refused->getMessage());
        }
        try {
            SourceFile::read("deepspring: 1\n$text");
            self::fail('It was read as a source file.');
        } catch (InvalidSourceFile $invalid) {
            self::assertNotSame([], $invalid->faults);
        }
        try {
            Importers::read(new ImportInput("openapi: 3.0.0\ninfo: {title: X}\npaths: {}\n$text"));
            self::fail('It was read as a description.');
        } catch (CannotDescribe $cannot) {
            self::assertNotSame('', $cannot->getMessage());
        }
        self::assertLessThan(256 << 20, memory_get_peak_usage() - $before);
    }

    public function test_aliases_that_stand_for_little_are_read(): void
    {
        $text = "base: &base {accept: application/json}\none: {<<: *base, x: 1}\ntwo: *base\n";
        self::assertSame(['base' => ['accept' => 'application/json'], 'one' => ['accept' => 'application/json', 'x' => 1], 'two' => ['accept' => 'application/json']], YamlText::parse($text));
    }
}
