<?php

declare(strict_types=1);

namespace Tests\Core\Note;

use DeepSpring\Note\RetryTimes;
use DeepSpring\Note\UnusableKey;
use DeepSpring\Note\WebhookSigner;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

final class WebhookSignerTest extends TestCase
{
    /**
     * The example that the libraries of Standard Webhooks are tested with.
     */
    public function test_the_example_of_the_standard(): void
    {
        $headers = (new WebhookSigner('whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw'))->headers('msg_p5jXN8AQM9LWM0D4loKWxJek', 1614265330, '{"test": 2432232314}');
        self::assertSame(['webhook-id' => 'msg_p5jXN8AQM9LWM0D4loKWxJek', 'webhook-timestamp' => '1614265330', 'webhook-signature' => 'v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE='], $headers);
    }

    /**
     * @return iterable<string, array{string, string}> key, body
     */
    public static function messages(): iterable
    {
        yield 'nothing' => [str_repeat("\x00", 24), ''];
        yield 'bytes of every value' => [random_bytes(32), implode('', array_map(chr(...), range(0, 255)))];
        yield 'the longest key' => [random_bytes(64), '{"sentence":"Hålogaland · 1.5 °C"}'];
    }

    #[DataProvider('messages')]
    public function test_openssl_makes_the_same_signature(string $key, string $body): void
    {
        $process = new Process(['openssl', 'dgst', '-sha256', '-mac', 'HMAC', '-macopt', 'hexkey:'.bin2hex($key), '-binary'], input: "msg_1.1900000000.$body");
        $process->mustRun();
        self::assertSame('v1,'.base64_encode($process->getOutput()), (new WebhookSigner(WebhookSigner::secret($key)))->headers('msg_1', 1900000000, $body)['webhook-signature']);
    }

    public function test_the_moment_and_the_number_are_signed_with_the_body(): void
    {
        $signer = new WebhookSigner(WebhookSigner::secret(str_repeat('k', 32)));
        $all = [$signer->headers('a', 1, '2'), $signer->headers('b', 1, '2'), $signer->headers('a', 2, '2'), $signer->headers('a', 1, '3')];
        self::assertCount(4, array_unique(array_column($all, 'webhook-signature')));
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function useless(): iterable
    {
        yield 'nothing' => [''];
        yield 'without the prefix' => [base64_encode(str_repeat('k', 32))];
        yield 'too short' => [WebhookSigner::secret(str_repeat('k', 23))];
        yield 'too long' => [WebhookSigner::secret(str_repeat('k', 65))];
        yield 'no base64' => ['whsec_*'.str_repeat('k', 40)];
    }

    #[DataProvider('useless')]
    public function test_what_is_no_secret_is_refused_without_being_told(string $secret): void
    {
        try {
            new WebhookSigner($secret);
            self::fail('It was taken.');
        } catch (UnusableKey $refused) {
            self::assertSame('A secret to sign with is "whsec_" and 24 to 64 bytes in base64.', $refused->getMessage());
        }
    }

    public function test_it_is_tried_again_ever_later_and_given_up_at_some_time(): void
    {
        $waits = [];
        for ($attempts = 1; ($wait = RetryTimes::after($attempts)) !== null; $attempts++) {
            $waits[] = $wait;
        }
        self::assertSame(RetryTimes::most(), $attempts);
        $sorted = $waits;
        sort($sorted);
        self::assertSame($sorted, $waits);
        self::assertSame(5, $waits[0]);
        self::assertGreaterThan(24 * 3600, array_sum($waits));
        self::assertNull(RetryTimes::after(100));
    }
}
