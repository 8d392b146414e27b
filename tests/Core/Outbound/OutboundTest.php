<?php

declare(strict_types=1);

namespace Tests\Core\Outbound;

use DeepSpring\Outbound\AddressRules;
use DeepSpring\Outbound\HostLiteral;
use DeepSpring\Outbound\HostName;
use DeepSpring\Outbound\UnusableHost;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class OutboundTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function addresses(): iterable
    {
        $kinds = [
            'this machine' => ['127.0.0.1', '127.255.255.254', '0.0.0.0', '0.1.2.3', '::1', '::', '::ffff:127.0.0.1', '::ffff:7f00:1', '64:ff9b::7f00:1', '2002:7f00:1::', '::127.0.0.1'],
            'private network' => ['10.0.0.1', '10.255.255.255', '172.16.0.1', '172.31.255.255', '192.168.0.1', 'fc00::1', 'fdff::1', 'fec0::1', '::ffff:10.1.2.3', '2002:a00:1::', '64:ff9b::c0a8:1', '64:ff9b:1::1'],
            'link-local' => ['169.254.1.1', 'fe80::1', 'febf::1', '::ffff:169.254.9.9'],
            'metadata' => ['169.254.169.254', '::ffff:169.254.169.254', '100.100.100.200', 'fd00:ec2::254', '169.254.170.2'],
            'carrier-grade' => ['100.64.0.1', '100.127.255.255', '::ffff:100.64.0.1'],
            'multicast' => ['224.0.0.1', '239.255.255.255', 'ff02::1'],
            'reserved' => ['240.0.0.1', '192.0.0.1', '100::1', '2001::1', '2001:1ff::1'],
            'broadcast' => ['255.255.255.255'],
            'documentation' => ['192.0.2.1', '198.51.100.7', '203.0.113.9', '2001:db8::1', '3fff::1'],
            'measurements' => ['198.18.0.1', '198.19.255.255'],
            'no address' => ['', 'localhost', '1.2.3', '1.2.3.4.5', 'fe80::1%eth0'],
        ];
        foreach ($kinds as $kind => $list) {
            foreach ($list as $address) {
                yield "\"$address\" is refused" => [$address, $kind];
            }
        }
        foreach (['1.1.1.1', '9.255.255.255', '11.0.0.0', '126.255.255.255', '128.0.0.1', '100.63.255.255', '100.128.0.0', '172.15.255.255', '172.32.0.0', '192.167.255.255', '192.169.0.0', '169.253.255.255', '198.17.255.255', '198.20.0.0', '223.255.255.255', '2600::1', '2a00:1450::1', '::ffff:8.8.8.8', '64:ff9b::808:808', '2002:808:808::'] as $address) {
            yield "$address is open to everybody" => [$address, null];
        }
    }

    #[DataProvider('addresses')]
    public function test_an_address_is_judged_by_its_range(string $address, ?string $kind): void
    {
        $refusal = AddressRules::refusal($address);
        $kind === null ? self::assertNull($refusal) : self::assertStringContainsString(strtr($kind, ['carrier-grade' => 'carrier']), (string) $refusal);
    }

    /**
     * @return iterable<string, array{string, array{string, bool}|string|null}>
     */
    public static function hosts(): iterable
    {
        $table = [
            'loans.saltmarsh.example' => null, 'localhost' => null, '1.2.3.example' => null, 'deadbeef' => null, '0x7f.example' => null,
            '127.0.0.1' => ['127.0.0.1', true], '2130706433' => ['127.0.0.1', false], '0x7f000001' => ['127.0.0.1', false], '017700000001' => ['127.0.0.1', false],
            '0177.0.0.1' => ['127.0.0.1', false], '0x7f.1' => ['127.0.0.1', false], '127.1' => ['127.0.0.1', false], '127.0.1' => ['127.0.0.1', false], '10.258' => ['10.0.1.2', false],
            '127.0.0.1.' => ['127.0.0.1', false], '0' => ['0.0.0.0', false], '0.0.0.0' => ['0.0.0.0', true], '0xA9FEA9FE' => ['169.254.169.254', false],
            '[::1]' => ['::1', true], '[0:0:0:0:0:0:0:1]' => ['::1', true], '[::ffff:127.0.0.1]' => ['::ffff:127.0.0.1', true],
            '[fe80::1%25eth0]' => 'zone', '[fe80::1%eth0]' => 'zone', '256.1.1.1' => 'none', '1.2.3.4.5' => 'none', '09.1.1.1' => 'none', '4294967296' => 'none', '1.16777216' => 'none', '[::g]' => 'none', '1..2' => 'none',
        ];
        foreach ($table as $host => $wanted) {
            yield "host $host" => [(string) $host, $wanted];
        }
    }

    /**
     * @param  array{string, bool}|string|null  $wanted
     */
    #[DataProvider('hosts')]
    public function test_a_host_that_is_an_address_is_read_however_it_is_written(string $host, array|string|null $wanted): void
    {
        if (is_string($wanted)) {
            $this->expectException(UnusableHost::class);
            $this->expectExceptionMessageMatches("/$wanted/");
        }
        $literal = HostLiteral::of($host);
        self::assertSame($wanted, $literal === null ? null : [$literal->address, $literal->usual]);
    }

    public function test_an_address_stays_as_it_was_and_a_name_has_one_spelling(): void
    {
        $spellings = ['::1' => '::1', '[::1]' => '[::1]', 'fe80::1' => 'fe80::1', '[2001:DB8::7]' => '[2001:DB8::7]', '127.0.0.1' => '127.0.0.1', 'Loans.Saltmarsh.Example' => 'loans.saltmarsh.example', 'bücher.example' => 'xn--bcher-kva.example', 'a.example.' => 'a.example.'];
        foreach ($spellings as $host => $one) {
            self::assertSame($one, HostName::of((string) $host));
        }
    }
}
