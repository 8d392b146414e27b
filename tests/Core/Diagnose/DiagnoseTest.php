<?php

declare(strict_types=1);

namespace Tests\Core\Diagnose;

use DeepSpring\Ask\SendFailure;
use DeepSpring\Diagnose\Diagnose;
use DeepSpring\Diagnose\Situation;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DiagnoseTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, string, string, string}>
     */
    public static function situations(): iterable
    {
        $tls = static fn (string $detail): array => ['failing' => SendFailure::Tls, 'detail' => $detail];
        $cases = [
            'an unknown name' => [['failing' => SendFailure::Name], 'dns', 'address', 'loans.saltmarsh.example'],
            'a refusal' => [['failing' => SendFailure::Refused], 'refused', 'address', 'nothing listens'],
            'no connection in time' => [['failing' => SendFailure::ConnectTimeout], 'connect-timeout', 'address', 'firewall'],
            'no answer in time' => [['failing' => SendFailure::AnswerTimeout, 'timeout' => 7], 'timeout', 'ask', 'within 7 s'],
            'too large' => [['failing' => SendFailure::TooLarge, 'detail' => 'more than 64 MB'], 'too-large', 'onward', 'more than 64 MB'],
            'cut off' => [['failing' => SendFailure::Cut], 'cut', 'ask', 'middle of the answer'],
            'TLS on a plain port' => [$tls('error:0A00010B:SSL routines::wrong version number'), 'tls-plain', 'address', 'http://'],
            'an expired certificate' => [$tls('SSL certificate problem: certificate has expired'), 'tls-expired', 'address', 'expired'],
            'a self-signed certificate' => [$tls('SSL certificate problem: self-signed certificate'), 'tls-self-signed', 'address', 'self-signed'],
            'a certificate for another name' => [$tls("SSL: no alternative certificate subject name matches target host name 'x'"), 'tls-name', 'address', 'another name'],
            'other TLS trouble' => [$tls('handshake failure'), 'tls', 'address', 'secure connection'],
            'anything else' => [['failing' => SendFailure::Other, 'detail' => 'odd'], 'transport', 'address', 'odd'],
            '401 without access' => [['status' => 401], '401-none', 'access', 'none is set up'],
            '401 without access, scheme named' => [['status' => 401, 'headers' => ['www-authenticate' => 'Bearer realm="x"']], '401-none', 'access', 'Bearer'],
            '401 with another header' => [['status' => 401, 'hasAccess' => true, 'accessHeaders' => ['x-api-key'], 'headers' => ['www-authenticate' => 'Key header="X-Stores-Key"']], '401-header', 'access', 'X-Stores-Key; you send x-api-key'],
            '401 with the header in the body' => [['status' => 401, 'hasAccess' => true, 'accessHeaders' => ['x-api-key'], 'body' => '{"detail":"Send your key as X-Stores-Key."}'], '401-header', 'access', 'X-Stores-Key'],
            '401 in the wrong place' => [['status' => 401, 'hasAccess' => true, 'accessHeaders' => ['x-key'], 'headers' => ['www-authenticate' => 'Bearer']], '401-place', 'access', 'Bearer in the Authorization header'],
            '401 refused' => [['status' => 401, 'hasAccess' => true, 'accessHeaders' => ['authorization'], 'headers' => ['www-authenticate' => 'Bearer error="invalid_token"']], '401-refused', 'access', 'mistyped, expired'],
            '403' => [['status' => 403, 'body' => '{"message":"loans.read is missing"}'], '403', 'access', 'loans.read is missing'],
            '404' => [['status' => 404], '404', 'ask', '/v2/loans'],
            '405' => [['status' => 405, 'headers' => ['allow' => 'POST']], '405', 'ask', 'It takes POST'],
            '429' => [['status' => 429, 'headers' => ['retry-after' => '7']], '429', 'ask', 'wait 7 s'],
            '400 with problem details' => [['status' => 400, 'body' => '{"title":"Bad","detail":"limit is too large"}'], '400', 'ask', 'limit is too large'],
            '422' => [['status' => 422, 'body' => '{"errors":[{"message":"house is required"}]}'], '422-missing', 'ask', 'house is required'],
            '500' => [['status' => 500, 'body' => '{"error":{"message":"ledger locked"}}'], '500', 'address', 'ledger locked'],
            '503' => [['status' => 503, 'headers' => ['retry-after' => '5']], '503', 'address', 'wait 5 s'],
            '204' => [['status' => 204], '204', 'answer', 'nothing to send'],
            '206' => [['status' => 206], '206', 'answer', 'not one of 200'],
            'a redirect elsewhere' => [['status' => 302, 'headers' => ['location' => 'https://other.example/x?token=1']], 'redirect', 'address', 'https://other.example/x.'],
            'a body that is no object' => [['status' => 500, 'body' => '"down"'], '500', 'address', 'failed (500).'],
            'a body that is deep' => [['status' => 500, 'body' => str_repeat('[', 5000)], '500', 'address', 'failed (500).'],
        ];
        foreach ($cases as $name => [$given, $code, $where, $says]) {
            yield $name => [$given, $code, $where, $says];
        }
    }

    /**
     * @param  array<string, mixed>  $given
     */
    #[DataProvider('situations')]
    public function test_a_situation_is_explained_at_its_place(array $given, string $code, string $where, string $says): void
    {
        $diagnosis = (new Diagnose)->exchange(new Situation(...(['method' => 'GET', 'uri' => 'https://loans.saltmarsh.example/v2/loans?limit=5'] + $given)));
        self::assertNotNull($diagnosis);
        self::assertSame([$code, $where], [$diagnosis->code, $diagnosis->where]);
        self::assertStringContainsString($says, "{$diagnosis->what} {$diagnosis->advice}");
        self::assertStringEndsWith('.', rtrim($diagnosis->advice, '"'), $diagnosis->advice);
        self::assertStringNotContainsString('token=1', $diagnosis->what);
    }

    public function test_a_success_needs_no_explanation(): void
    {
        self::assertNull((new Diagnose)->exchange(new Situation('GET', 'https://loans.saltmarsh.example/', status: 200)));
        self::assertNull((new Diagnose)->exchange(new Situation('GET', 'https://loans.saltmarsh.example/', status: 204, ok: [200, 204])));
    }
}
