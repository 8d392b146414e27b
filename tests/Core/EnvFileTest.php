<?php

declare(strict_types=1);

namespace Tests\Core;

use App\Local\EnvFile;
use App\Local\Trouble;
use PHPUnit\Framework\TestCase;

/**
 * The settings of an instance, as they are written, read again, and read by a shell.
 */
final class EnvFileTest extends TestCase
{
    private string $file;

    protected function setUp(): void
    {
        $this->file = (string) tempnam(sys_get_temp_dir(), 'env');
        file_put_contents($this->file, '');
    }

    protected function tearDown(): void
    {
        unlink($this->file);
    }

    public function test_what_is_written_is_what_is_read_whatever_is_in_it(): void
    {
        $values = ['PLAIN' => 'walrus', 'EMPTY' => '', 'QUOTE' => 'a "b" \'c\'', 'DOLLAR' => 'pa$word ${PLAIN} $(id)', 'BACKSLASH' => 'a\\b\\n', 'HASH' => 'a # b', 'SIGN' => 'a=b==', 'BLANKS' => '  x  ', 'WORDS' => 'Gull Tower Ærø 鷗'];
        $written = (new EnvFile($this->file))->merge($values);
        self::assertSame($values, array_intersect_key((new EnvFile($this->file))->read(), $values));
        self::assertSame($written, (new EnvFile($this->file))->read(), 'with everything that was added');
        self::assertSame(0600, fileperms($this->file) & 0777);
        foreach ($values as $name => $value) {
            self::assertSame($value, (string) shell_exec('. '.escapeshellarg($this->file).'; printf %s "$'.$name.'"'), "$name, in a shell");
        }
    }

    public function test_what_is_there_stays_and_what_is_given_is_set(): void
    {
        $first = (new EnvFile($this->file))->merge(['SPRING_VAR' => 'var/one']);
        $second = (new EnvFile($this->file))->merge(['SPRING_VAR' => 'var/two']);
        self::assertSame(['SPRING_VAR' => 'var/two'] + $first, $second);
        self::assertStringStartsWith('base64:', $first['APP_KEY']);
        self::assertCount(4, array_unique(array_intersect_key($first, array_flip(['DB_APP_PASSWORD', 'DB_KEEPER_PASSWORD', 'DB_ROOT_PASSWORD', 'DB_BACKUP_PASSWORD']))));
    }

    public function test_a_line_that_is_no_setting_is_named(): void
    {
        file_put_contents($this->file, "A=\"walrus\nB=c\n");
        $this->expectException(Trouble::class);
        $this->expectExceptionMessage('cannot be read');
        (new EnvFile($this->file))->read();
    }

    public function test_without_a_file_nothing_is_set(): void
    {
        self::assertSame([], (new EnvFile("$this->file.none"))->read());
    }
}
