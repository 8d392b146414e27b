<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\AllowedHost;
use App\Models\Role;
use App\Models\Tryout;
use App\Runs\Tries;
use App\Transport\Limits;
use App\Transport\OutboundGuard;
use App\Transport\OutboundRefused;
use App\Transport\Resolver;
use App\Transport\Sent;
use App\Transport\Transport;
use App\Transport\UnknownName;
use DeepSpring\Access\SecretMask;
use DeepSpring\Ask\SendFailure;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

final class OutboundTest extends AppTestCase
{
    /**
     * A resolver that answers from a list, one list entry a call, the last for ever.
     *
     * @param  list<list<string>>  $answers
     */
    private function resolver(array $answers): Resolver
    {
        return new class($answers) extends Resolver
        {
            public int $asked = 0;

            /**
             * @param  list<list<string>>  $answers
             */
            public function __construct(private readonly array $answers)
            {
            }

            public function addresses(string $name): array
            {
                return $this->answers[min($this->asked++, count($this->answers) - 1)];
            }
        };
    }

    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function addresses(): iterable
    {
        foreach (['http://127.0.0.1/' => 'this machine', 'http://0.0.0.0/' => 'this machine', 'http://[::1]/' => 'this machine', 'http://[::ffff:127.0.0.1]/' => 'this machine', 'http://2130706433/' => 'this machine', 'http://0177.0.0.1/' => 'this machine', 'http://0x7f.1/' => 'this machine', 'http://127.1/' => 'this machine', 'http://169.254.169.254/latest' => 'metadata', 'http://10.0.0.7/' => 'private', 'http://[fe80::1%25eth0]/' => 'zone', 'http://[fd00::1]/' => 'private', 'http://100.64.1.1/' => 'carrier', 'http://1.1.1.1:22/' => 'Port 22', 'ftp://1.1.1.1/' => 'http and https', 'http://256.1.1.1/' => 'none', 'http://134744072/' => 'unusual way to write 8.8.8.8'] as $address => $why) {
            yield $address => [$address, $why];
        }
        foreach (['http://1.1.1.1/', 'https://1.1.1.1:8443/', 'https://[2606:4700::1111]/'] as $address) {
            yield "$address is open" => [$address, null];
        }
    }

    #[DataProvider('addresses')]
    public function test_an_address_is_refused_however_it_is_written(string $address, ?string $why): void
    {
        $guard = new OutboundGuard($this->resolver([['1.1.1.1']]), [80, 443, 8080, 8443]);
        if ($why !== null) {
            $this->expectException(OutboundRefused::class);
            $this->expectExceptionMessageMatches("/$why/");
        }
        self::assertNull($guard->admit(new Uri($address)));
    }

    public function test_a_name_is_judged_by_every_address_it_stands_for(): void
    {
        $ports = [80, 443];
        self::assertSame(['1.1.1.1', '2606:4700::1111'], (new OutboundGuard($this->resolver([['1.1.1.1', '2606:4700::1111']]), $ports))->admit(new Uri('https://open.saltmarsh.example/')));
        foreach ([['10.0.0.1'], ['1.1.1.1', '127.0.0.1'], ['::ffff:192.168.1.1'], ['fd00:ec2::254']] as $addresses) {
            try {
                (new OutboundGuard($this->resolver([$addresses]), $ports))->admit(new Uri('https://sly.saltmarsh.example/'));
                self::fail(implode(', ', $addresses));
            } catch (OutboundRefused $refused) {
                self::assertStringContainsString('sly.saltmarsh.example leads to', $refused->getMessage());
            }
        }
        $this->expectException(UnknownName::class);
        (new OutboundGuard($this->resolver([[]]), $ports))->admit(new Uri('https://nobody.saltmarsh.example/'));
    }

    public function test_permission_is_for_one_host_and_port(): void
    {
        AllowedHost::query()->create(['host' => 'lab.saltmarsh.example', 'port' => 8443]);
        $guard = new OutboundGuard($this->resolver([['10.0.0.7']]), [443, 8443]);
        self::assertSame(['10.0.0.7'], $guard->admit(new Uri('https://LAB.saltmarsh.example:8443/x')));
        foreach (['https://lab.saltmarsh.example/', 'https://other.saltmarsh.example:8443/', 'https://10.0.0.7:8443/'] as $other) {
            try {
                $guard->admit(new Uri($other));
                self::fail($other);
            } catch (OutboundRefused) {
                $this->addToAssertionCount(1);
            }
        }
    }

    public function test_the_connection_is_held_to_the_address_that_was_looked_at(): void
    {
        $port = (int) parse_url(self::$standinsAddress, PHP_URL_PORT);
        AllowedHost::query()->create(['host' => 'pinned.saltmarsh.example', 'port' => $port]);
        // No name server knows this name: only the pinned address leads anywhere.
        $sent = $this->send(new Transport(new OutboundGuard($this->resolver([['127.0.0.1']]), [80])), "http://pinned.saltmarsh.example:$port/doors/open");
        self::assertSame([200, '127.0.0.1'], [$sent->status, $sent->timing->address]);
    }

    public function test_a_name_that_moves_inward_between_requests_is_refused(): void
    {
        $resolver = $this->resolver([['1.1.1.1'], ['127.0.0.1']]);
        $guard = new OutboundGuard($resolver, [80, 443]);
        self::assertSame(['1.1.1.1'], $guard->admit(new Uri('http://rebind.saltmarsh.example/')));
        self::assertSame(1, $resolver->asked, 'asked once for a request; what was looked at is what is connected to');
        $this->expectException(OutboundRefused::class);
        $guard->admit(new Uri('http://rebind.saltmarsh.example/'));
    }

    public function test_every_redirect_passes_the_guard_and_credentials_stay_at_home(): void
    {
        $transport = app(Transport::class);
        $anywhere = new Limits(5, 1, 65536, true);
        $inward = $this->send($transport, self::$standinsAddress.'/doors/inward', $anywhere);
        self::assertSame(SendFailure::Forbidden, $inward->failing);
        self::assertStringContainsString('metadata', $inward->detail);
        self::assertSame([['status' => 307, 'to' => 'http://169.254.169.254/latest/meta-data/']], $inward->timing->hops);

        $port = (int) parse_url(self::$standinsAddress, PHP_URL_PORT);
        self::assertSame(SendFailure::Forbidden, $this->send($transport, self::$standinsAddress.'/doors/elsewhere', $anywhere)->failing, 'another name for the same machine is another host');
        AllowedHost::query()->create(['host' => 'localhost', 'port' => $port]);
        $away = $this->send($transport, self::$standinsAddress.'/doors/elsewhere', $anywhere, ['authorization' => 'Bearer tk-1', 'cookie' => 'a=1', 'x-key' => 'k']);
        self::assertSame([200, "http://localhost:$port/doors/open"], [$away->status, (string) $away->request->getUri()]);
        self::assertSame(['', '', ''], [$away->request->getHeaderLine('authorization'), $away->request->getHeaderLine('cookie'), $away->request->getHeaderLine('x-key')]);
        self::assertSame(302, $this->send($transport, self::$standinsAddress.'/doors/elsewhere')->status, 'a run does not follow it at all');
        self::assertSame(200, $this->send($transport, self::$standinsAddress.'/doors/moved', null, ['authorization' => 'Bearer tk-1'])->status, 'within the origin it does');
    }

    public function test_headers_without_end_are_cut_off(): void
    {
        $port = Lane::ports(8860)->web;
        $this->allow($port);
        $server = Child::start('server', [PHP_BINARY, '-r', '$s = stream_socket_server("tcp://127.0.0.1:'.$port.'"); while ($c = stream_socket_accept($s, 20)) { fread($c, 9000); fwrite($c, "HTTP/1.1 200 OK\r\n"); for ($n = 0; $n < 5000 && @fwrite($c, "X-$n: ".str_repeat("a", 1000)."\r\n"); $n++); fclose($c); }'], [], '/dev/null', base_path());
        try {
            Ports::await($port, 'The server');
            $sent = $this->send(app(Transport::class), "http://127.0.0.1:$port/");
            self::assertSame(SendFailure::TooLarge, $sent->failing, $sent->detail);
        } finally {
            $server->stop(1);
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function certificates(): iterable
    {
        yield 'expired' => ['expired', 'tls-expired'];
        yield 'self-signed' => ['self-signed', 'tls-self-signed'];
        yield 'another name' => ['other-name', 'tls-name'];
        yield 'good' => ['good', ''];
    }

    #[DataProvider('certificates')]
    public function test_certificates_are_checked_and_described(string $kind, string $code): void
    {
        $this->withTls($kind, function (string $address) use ($code): void {
            $source = $this->draft($address);
            $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null);
            self::assertSame($code, $try->diagnosis['code'] ?? '', (string) json_encode($try->diagnosis));
            if ($code === '') {
                self::assertSame('Circle authority', $try->exchanges->first()?->timing['certificate']['issuer'] ?? null);
            }
        });
    }

    public function test_a_client_certificate_opens_the_door(): void
    {
        $this->withTls('client', function (string $address, string $folder): void {
            $source = $this->draft($address);
            $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null);
            self::assertContains('tls-client', [$try->diagnosis['code'] ?? null, ...array_column($try->diagnosis['others'] ?? [], 'code')], (string) json_encode($try->diagnosis));

            $source = $this->draft($address, [['scheme' => 'client-certificate', 'certificate' => ['secret' => 'certificate'], 'key' => ['secret' => 'certificate_key']]]);
            app(\App\Secrets\Vault::class)->put($source, $this->trial(), 'certificate', (string) file_get_contents("$folder/client.pem"), null);
            app(\App\Secrets\Vault::class)->put($source, $this->trial(), 'certificate_key', (string) file_get_contents("$folder/client.key"), null);
            $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null);
            self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
            self::assertStringContainsString('"who":"circle-desk"', (string) $try->exchanges->first()?->text());
            self::assertContains(\App\Models\Secret::query()->where('name', 'certificate')->firstOrFail()->ends_on?->format('Y-m-d'), [gmdate('Y-m-d', time() + 9 * 86_400 - 60), gmdate('Y-m-d', time() + 9 * 86_400)], 'a certificate says itself when it ends');

            app(\App\Secrets\Vault::class)->put($source, $this->trial(), 'certificate_key', 'no key', null);
            $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null);
            self::assertStringContainsString('none in PEM form', $try->diagnosis['what'] ?? '');
        });
    }

    public function test_only_an_administrator_allows_a_host(): void
    {
        foreach ([Role::Analyst, Role::Builder] as $role) {
            $this->actingAs($this->person($role))->post('/outbound', ['host' => 'a.example:99'])->assertForbidden();
            $this->get('/outbound')->assertForbidden();
        }
        $this->actingAs($this->person(Role::Administrator));
        $this->post('/outbound', ['host' => 'no port'])->assertSessionHasErrors('host');
        $this->post('/outbound', ['host' => 'https://Lab.saltmarsh.example:8443/', 'note' => 'the lab'])->assertRedirect('/outbound');
        self::assertTrue(AllowedHost::holds('lab.saltmarsh.example', 8443));
        $this->get('/outbound')->assertOk()->assertSee('the lab')->assertSee('Revoke');
        $this->delete('/outbound/'.AllowedHost::query()->where('port', 8443)->value('id'))->assertRedirect('/outbound');
        self::assertFalse(AllowedHost::holds('lab.saltmarsh.example', 8443));
        self::assertSame(0, Artisan::call('spring:allow', ['host' => '[::1]:8080', '--note' => 'here']), Artisan::output());
        self::assertTrue(AllowedHost::holds('[::1]', 8080));
        self::assertSame(0, Artisan::call('spring:allow', ['host' => '[::1]:8080', '--remove' => true]), Artisan::output());
        self::assertSame(2, Artisan::call('spring:allow', ['host' => 'nonsense']), Artisan::output());
        self::assertSame(0, Artisan::call('spring:allow'));
        self::assertStringContainsString('127.0.0.1:', Artisan::output());
    }

    public function test_an_address_that_is_closed_is_explained_where_it_stands(): void
    {
        $source = $this->draft('http://127.0.0.1:9');
        $try = app(Tries::class)->source($source, $source->current(), $this->trial(), null);
        self::assertSame(['outbound', 'address'], [$try->diagnosis['code'] ?? null, $try->diagnosis['where'] ?? null]);
        $this->actingAs($this->person())->get("/sources/$source->slug")->assertOk()->assertSee('./spring allow 127.0.0.1:9')->assertDontSee('and try again');
        $this->actingAs($this->person(Role::Administrator));
        auth()->user()?->forceFill(['environment_id' => $this->trial()->id])->save();
        $this->get("/sources/$source->slug")->assertSee('Allow 127.0.0.1:9, and try again');
        self::assertSame(1, Tryout::query()->count());
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function send(Transport $transport, string $address, ?Limits $limits = null, array $headers = []): Sent
    {
        return $transport->send(new Request('GET', $address, $headers), $limits ?? new Limits(5, 1, 65536), new SecretMask([]));
    }

    /**
     * @param  \Closure(string, string): void  $test  given the address and the folder with what was made
     */
    private function withTls(string $kind, \Closure $test): void
    {
        $folder = sys_get_temp_dir().'/spring-tls-'.bin2hex(random_bytes(5));
        mkdir($folder);
        $port = Lane::ports(8880)->web;
        $this->allow($port);
        $server = Child::start('tls', [PHP_BINARY, base_path('standins/doors/tls.php'), (string) $port, $kind, $folder], [], "$folder/log", base_path());
        try {
            for ($until = microtime(true) + 60; ! is_file("$folder/ready") && microtime(true) < $until; usleep(30_000));
            config(['spring.outbound.authorities' => $kind === 'self-signed' ? null : "$folder/ca.pem"]);
            app()->forgetInstance(Transport::class);
            app()->forgetInstance(Tries::class);
            $test("https://127.0.0.1:$port", $folder);
        } finally {
            $server->stop(1);
            exec('rm -rf '.escapeshellarg($folder));
        }
    }
}
