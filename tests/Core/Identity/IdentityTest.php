<?php

declare(strict_types=1);

namespace Tests\Core\Identity;

use DeepSpring\Identity\Base32;
use DeepSpring\Identity\PasswordRules;
use DeepSpring\Identity\RecoveryCodes;
use DeepSpring\Identity\Totp;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class IdentityTest extends TestCase
{
    /**
     * RFC 6238 appendix B (SHA-1), of whose eight digits the last six are these.
     *
     * @return iterable<int, array{int, string}>
     */
    public static function vectors(): iterable
    {
        yield [59, '287082'];
        yield [1111111109, '081804'];
        yield [1111111111, '050471'];
        yield [1234567890, '005924'];
        yield [2000000000, '279037'];
        yield [20000000000, '353130'];
    }

    #[DataProvider('vectors')]
    public function test_codes_are_those_of_the_rfc(int $time, string $code): void
    {
        self::assertSame($code, (new Totp('12345678901234567890'))->at($time));
    }

    public function test_a_code_is_taken_once_and_near_its_time(): void
    {
        $totp = new Totp(str_repeat('s', 20));
        $now = 1_900_000_000;
        $step = intdiv($now, 30);
        self::assertSame($step, $totp->step($totp->at($now), $now, 0));
        self::assertSame($step, $totp->step(' '.substr($totp->at($now), 0, 3).' '.substr($totp->at($now), 3), $now, 0), 'blanks do not matter');
        self::assertSame($step - 1, $totp->step($totp->at($now - 30), $now, 0), 'a clock may be half a minute off');
        self::assertSame($step + 1, $totp->step($totp->at($now + 30), $now, 0));
        self::assertNull($totp->step($totp->at($now - 60), $now, 0));
        self::assertNull($totp->step($totp->at($now + 60), $now, 0));
        self::assertNull($totp->step($totp->at($now), $now, $step), 'not twice');
        self::assertNull($totp->step('', $now, 0));
        self::assertStringStartsWith('otpauth://totp/Deep%20Spring:edda%40saltmarsh.example?secret=', $totp->address('Deep Spring', 'edda@saltmarsh.example'));
    }

    /**
     * RFC 4648 §10.
     *
     * @return iterable<int, array{string, string}>
     */
    public static function base32(): iterable
    {
        yield ['', ''];
        yield ['f', 'MY'];
        yield ['fo', 'MZXQ'];
        yield ['foo', 'MZXW6'];
        yield ['foob', 'MZXW6YQ'];
        yield ['fooba', 'MZXW6YTB'];
        yield ['foobar', 'MZXW6YTBOI'];
    }

    #[DataProvider('base32')]
    public function test_base32_is_that_of_the_rfc(string $bytes, string $text): void
    {
        self::assertSame($text, Base32::encode($bytes));
        self::assertSame($bytes, Base32::decode(strtolower(chunk_split($text, 4, ' ')).'=='));
        self::assertNull(Base32::decode('01'));
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function passwords(): iterable
    {
        yield 'too short' => ['quay-lamp-1', false];
        yield 'four words' => ['quay lamp oar tide', true];
        yield 'twelve characters' => ['vR7#kq0!zLm2', true];
        yield 'common' => ['passwordpassword', false];
        yield 'common with a year' => ['password2030', false];
        yield 'common with signs' => ['Password!!!!', false];
        yield 'one letter' => ['aaaaaaaaaaaaaaa', false];
        yield 'keyboard twice' => ['qwertyqwerty', false];
        yield 'own name and little else' => ['eddamarsh12', false];
        yield 'own address' => ['edda@marsh.ed', false];
        yield 'letters of other scripts' => ['крыша-лодка-соль', true];
        yield 'very long' => [str_repeat('ab1-', 51), false];
    }

    #[DataProvider('passwords')]
    public function test_a_password_is_long_and_not_the_first_that_is_tried(string $password, bool $taken): void
    {
        $common = array_flip(array_map(strval(...), (array) file(dirname(__DIR__, 3).'/resources/passwords.txt', FILE_IGNORE_NEW_LINES)));
        self::assertCount(10_000, $common);
        $rules = new PasswordRules($common, ['Edda', 'Marsh', 'edda', 'saltmarsh', 'example']);
        $refusal = $rules->refusal($password);
        self::assertSame($taken, $refusal === null, (string) $refusal);
        self::assertNotSame('', $rules->strength($password));
    }

    public function test_every_common_password_is_refused_whatever_is_put_behind_it(): void
    {
        $common = array_flip(array_map(strval(...), (array) file(dirname(__DIR__, 3).'/resources/passwords.txt', FILE_IGNORE_NEW_LINES)));
        $rules = new PasswordRules($common);
        foreach (array_keys($common) as $one) {
            foreach ([(string) $one, strtoupper((string) $one), $one.'2031!', "$one$one$one"] as $password) {
                self::assertNotNull($rules->refusal($password), $password);
            }
        }
    }

    public function test_a_recovery_code_works_once(): void
    {
        mt_srand(7);
        $codes = RecoveryCodes::make(mt_rand(...));
        self::assertCount(10, array_unique($codes));
        $hashes = array_map(RecoveryCodes::hash(...), $codes);
        $left = RecoveryCodes::spend(strtoupper(str_replace('-', ' ', $codes[3])), $hashes);
        self::assertIsArray($left);
        self::assertCount(9, $left);
        self::assertNull(RecoveryCodes::spend($codes[3], $left));
        self::assertNull(RecoveryCodes::spend('', $hashes));
    }
}
