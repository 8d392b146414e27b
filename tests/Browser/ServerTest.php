<?php

declare(strict_types=1);

namespace Tests\Browser;

use App\Local\Child;
use App\Local\Ports;
use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;
use GuzzleHttp\Promise\Utils;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\ResponseInterface;
use Tests\Lane;

/**
 * The web server for real: nginx and its two pools, TLS, a proxy in front, and two of them on one
 * database with Redis between them.
 */
final class ServerTest extends TestCase
{
    /** @var list<Child> */
    private array $children = [];

    /** @var list<string> */
    private array $folders = [];

    protected function tearDown(): void
    {
        foreach (array_reverse($this->children) as $child) {
            $child->stop(5);
        }
        foreach ($this->folders as $folder) {
            exec('rm -rf '.escapeshellarg($folder));
        }
    }

    private static function root(): string
    {
        return dirname(__DIR__, 2);
    }

    /**
     * @param  array<string, mixed>  $more
     */
    private function client(string $base, array $more = []): Client
    {
        return new Client($more + ['base_uri' => $base, 'http_errors' => false, 'cookies' => new CookieJar, 'allow_redirects' => false, 'timeout' => 60, 'verify' => false]);
    }

    private function token(ResponseInterface $page): string
    {
        return preg_match('/name="csrf-token" content="([^"]+)"/', (string) $page->getBody(), $part) === 1 ? $part[1] : '';
    }

    /**
     * @return string the token of a page of those who are signed in
     */
    private function signIn(Client $client, string $who = 'tomas', string $password = 'SPRING_DEMO_ANALYST'): string
    {
        $form = $this->token($client->get('/sign-in'));
        $answer = $client->post('/sign-in', ['form_params' => ['_token' => $form, 'email' => "$who@saltmarsh.example", 'password' => (string) getenv($password)]]);
        self::assertSame(302, $answer->getStatusCode());
        self::assertStringNotContainsString('sign-in', $answer->getHeaderLine('Location'));

        return $this->token($client->get('/queries/new'));
    }

    /**
     * One role in a process of its own, with a folder of its own.
     *
     * @param  list<string>  $words
     * @param  array<string, string>  $env
     */
    private function serve(string $name, array $words, array $env = []): Child
    {
        $var = "var/test-$name";
        $this->folders[] = self::root()."/$var";
        $log = sys_get_temp_dir()."/spring-$name.log";
        $this->folders[] = $log;
        $key = self::root().'/'.Lane::folder().'/keys/secrets.key';
        // Other suites set these for themselves in the same process.
        $env += ['APP_ENV' => 'production', 'DB_SCHEMA' => 'deep_spring', 'CACHE_STORE' => 'database', 'SESSION_DRIVER' => 'database', 'QUEUE_CONNECTION' => 'database', 'LOG_CHANNEL' => 'file', 'SPRING_QUERY_SECONDS' => '30', 'SPRING_VAR' => "var/test-$name"];
        @mkdir(self::root()."/$var/keys", 0711, true);
        copy($key, self::root()."/$var/keys/secrets.key");

        return $this->children[] = Child::start($name, [PHP_BINARY, 'app/Local/spring.php', 'serve', ...$words, '--var', $var], $env, $log, self::root());
    }

    private function await(string $address): void
    {
        for ($until = microtime(true) + 60; microtime(true) < $until; usleep(50_000)) {
            $answer = @file_get_contents($address, false, stream_context_create(['http' => ['timeout' => 20], 'ssl' => ['verify_peer' => false, 'verify_peer_name' => false]]));
            if ($answer === "up\n") {
                return;
            }
        }
        self::fail("$address does not answer. ".implode("\n", array_map(static fn (string $file): string => is_file($file) ? (string) file_get_contents($file) : '', [...$this->folders, ...(array) glob(self::root().'/var/test-*/log/*.log')])));
    }

    public function test_files_are_compressed_and_kept_by_browsers_and_nothing_else_is_served(): void
    {
        $client = $this->client((string) getenv('APP_URL'));
        $page = (string) $client->get('/sign-in')->getBody();
        preg_match('~/build/assets/[^"]+\.css~', $page, $css);
        self::assertNotEmpty($css);
        $file = $client->get($css[0], ['headers' => ['Accept-Encoding' => 'gzip'], 'decode_content' => false]);
        self::assertSame([200, 'gzip', 'text/css', 'public, max-age=31536000, immutable', 'nosniff'], [$file->getStatusCode(), $file->getHeaderLine('Content-Encoding'), $file->getHeaderLine('Content-Type'), $file->getHeaderLine('Cache-Control'), $file->getHeaderLine('X-Content-Type-Options')]);
        // A page holds a token beside what somebody else may choose, so it is not compressed.
        self::assertSame('', $client->get('/sign-in', ['headers' => ['Accept-Encoding' => 'gzip'], 'decode_content' => false])->getHeaderLine('Content-Encoding'));
        foreach (['/.env' => 404, '/index.php' => 404, '/index.php/sign-in' => 404, '/../artisan' => 400, '/build/../../.env' => 400, '/%2e%2e/.env' => 400, '/build/manifest.json' => 200, '/%00' => 400, '/icon.svg' => 200] as $path => $status) {
            $socket = fsockopen('127.0.0.1', (int) parse_url((string) getenv('APP_URL'), PHP_URL_PORT));
            self::assertIsResource($socket);
            fwrite($socket, "GET $path HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n");
            $answer = (string) stream_get_contents($socket);
            self::assertStringStartsWith("HTTP/1.1 $status", $answer, $path);
            self::assertMatchesRegularExpression('/^X-Content-Type-Options: nosniff/mi', $answer, $path);
            self::assertSame(1, substr_count(strtolower($answer), 'x-frame-options:'), $path);
        }
        $processes = (string) shell_exec('ps -eo user:20,args');
        preg_match_all('~^(\S+)\s+(?:nginx: (?:master|worker).*|php-fpm: (?:master|pool).*)$~m', $processes, $owners);
        self::assertNotContains('root', $owners[1], 'nothing that listens runs as root');
    }

    public function test_pages_are_answered_while_every_place_for_slow_requests_is_taken(): void
    {
        $base = (string) getenv('APP_URL');
        $client = $this->client($base);
        $token = $this->signIn($client, 'ines', 'SPRING_DEMO_BUILDER');
        $order = [];
        $slow = [];
        for ($number = 0; $number < 14; $number++) {
            $slow[] = $client->postAsync('/sources/loans-desk/endpoints/loans/try', ['headers' => ['X-CSRF-TOKEN' => $token, 'HX-Request' => 'true'], 'form_params' => ['path' => '/loans?slow=1500', 'name' => 'Loans']])->then(static function (ResponseInterface $answer) use (&$order): int {
                $order[] = 'slow';

                return $answer->getStatusCode();
            });
        }
        $quick = [];
        for ($number = 0; $number < 20; $number++) {
            $quick[] = $client->getAsync($number % 2 === 0 ? '/tables' : '/sign-in', ['cookies' => $number % 2 === 0 ? null : new CookieJar])->then(static function (ResponseInterface $answer) use (&$order): int {
                $order[] = 'quick';

                return $answer->getStatusCode();
            });
        }
        Utils::settle([...$slow, ...$quick])->wait();
        self::assertCount(34, $order);
        // All pages are there before the second round of slow requests is.
        $lastPage = max(array_keys(array_filter($order, static fn (string $one): bool => $one === 'quick')));
        $slowBefore = count(array_filter(array_slice($order, 0, $lastPage), static fn (string $one): bool => $one === 'slow'));
        self::assertLessThanOrEqual(8, $slowBefore, implode(' ', $order));
    }

    public function test_it_serves_https_itself(): void
    {
        $port = Lane::ports(9400)->web;
        [$certificate, $key] = $this->certificate();
        $base = "https://127.0.0.1:$port";
        $this->serve('tls', ['web', $key, '--listen', "127.0.0.1:$port", '--tls', $certificate, '--pages', '2', '--slow', '2'], ['APP_URL' => $base]);
        $this->await("$base/up");
        $client = $this->client($base);
        $this->signIn($client);
        $page = $client->get('/tables');
        self::assertSame(200, $page->getStatusCode());
        self::assertStringStartsWith('max-age=', $page->getHeaderLine('Strict-Transport-Security'));
        self::assertStringNotContainsString('http://127', (string) $page->getBody());
        foreach ($client->get('/tables')->getHeader('Set-Cookie') as $cookie) {
            self::assertStringContainsString('secure', strtolower($cookie));
        }
        // Somebody who asks in clear text is shown the way.
        $clear = $this->client("http://127.0.0.1:$port")->get('/tables');
        self::assertSame([301, "$base/tables"], [$clear->getStatusCode(), $clear->getHeaderLine('Location')]);
        foreach ([[$key, $certificate], ['/etc/hostname', $key]] as [$one, $two]) {
            $process = proc_open([PHP_BINARY, 'app/Local/spring.php', 'serve', 'web', $two, '--tls', $one, '--var', 'var/test-tls'], [2 => ['pipe', 'w']], $pipes, self::root(), ['SPRING_VAR' => 'var/test-tls'] + getenv());
            self::assertIsResource($process);
            self::assertMatchesRegularExpression('/is no certificate|is not the key/', (string) stream_get_contents($pipes[2]));
            self::assertSame(1, proc_close($process));
        }
    }

    public function test_people_sign_in_through_a_proxy_with_tls(): void
    {
        $behind = Lane::ports(9420)->web;
        $front = Lane::ports(9440)->web;
        [$certificate, $key] = $this->certificate();
        $this->serve('proxied', ['web', '--listen', "127.0.0.1:$behind", '--pages', '2', '--slow', '2'], ['APP_URL' => "https://localhost:$front", 'SPRING_PROXIES' => '127.0.0.1']);
        // The example of deploy/, with other addresses.
        $folder = sys_get_temp_dir().'/proxy-'.getmypid();
        mkdir($folder);
        $this->folders[] = $folder;
        $server = strtr((string) file_get_contents(self::root().'/deploy/nginx.conf'), ['listen 443' => "listen 127.0.0.1:$front", 'listen 80;' => 'listen 127.0.0.1:'.($front + 1).';', 'tables.saltmarsh.example' => 'localhost', '/etc/ssl/tables.crt' => $certificate, '/etc/ssl/tables.key' => $key, 'http://127.0.0.1:8400' => "http://127.0.0.1:$behind", 'Host $host;' => 'Host $http_host;', 'X-Forwarded-Host $host;' => 'X-Forwarded-Host $http_host;']);
        $paths = implode("\n", array_map(static fn (string $kind): string => "{$kind}_temp_path $folder;", ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']));
        file_put_contents("$folder/nginx.conf", "daemon off; pid $folder/pid; error_log $folder/log; events {} http { access_log off; $paths $server }");
        $this->children[] = Child::start('proxy', ['/usr/sbin/nginx', '-p', $folder, '-e', "$folder/log", '-c', "$folder/nginx.conf"], [], "$folder/out", $folder);
        $this->await("http://127.0.0.1:$behind/up");
        $base = "https://localhost:$front";
        $this->await("$base/up");
        $client = $this->client($base);
        $first = $client->get('/');
        self::assertSame("$base/sign-in", $first->getHeaderLine('Location'));
        $page = $client->get('/sign-in');
        self::assertStringContainsString("action=\"$base/sign-in\"", (string) $page->getBody());
        self::assertStringNotContainsString('http://', (string) preg_replace('~http://www\.w3\.org~', '', (string) $page->getBody()));
        $this->signIn($client);
        self::assertSame(200, $client->get('/tables')->getStatusCode());
        self::assertNotSame('', $client->get('/tables')->getHeaderLine('Strict-Transport-Security'));
        // Whoever is no proxy is not believed.
        file_get_contents("http://127.0.0.1:$behind/", false, stream_context_create(['http' => ['header' => 'Host: evil.example', 'ignore_errors' => true]]));
        self::assertStringContainsString(' 400 ', $http_response_header[0]);
    }

    public function test_two_servers_and_four_workers_share_redis_and_one_database(): void
    {
        $redis = Lane::ports(9460)->web;
        [$one, $two] = [Lane::ports(9480)->web, Lane::ports(9500)->web];
        $folder = sys_get_temp_dir().'/redis-'.getmypid();
        mkdir($folder);
        $this->folders[] = $folder;
        $this->children[] = Child::start('redis', ['redis-server', '--port', (string) $redis, '--bind', '127.0.0.1', '--save', '', '--appendonly', 'no', '--dir', $folder], [], "$folder/log", $folder);
        Ports::await($redis, 'Redis');
        $env = ['CACHE_STORE' => 'redis', 'QUEUE_CONNECTION' => 'redis', 'SESSION_DRIVER' => 'redis', 'REDIS_PORT' => (string) $redis];
        foreach ([$one, $two] as $number => $port) {
            $this->serve("web$number", ['web', '--listen', "127.0.0.1:$port", '--pages', '3', '--slow', '2'], $env + ['APP_URL' => "http://127.0.0.1:$port"]);
        }
        $this->serve('workers1', ['worker', '--count', '2'], $env);
        $this->serve('workers2', ['worker', '--count', '2'], $env);
        foreach ([$one, $two] as $port) {
            $this->await("http://127.0.0.1:$port/up");
        }
        $jar = new CookieJar;
        $first = $this->client("http://127.0.0.1:$one", ['cookies' => $jar]);
        $this->signIn($first, 'ines', 'SPRING_DEMO_BUILDER');
        $second = $this->client("http://127.0.0.1:$two", ['cookies' => $jar]);
        $page = $second->get('/runs');
        self::assertSame(200, $page->getStatusCode(), 'the sign-in is valid on both');
        $token = $this->token($page);

        $pdo = new \PDO('mysql:host=127.0.0.1;port='.getenv('DB_PORT').';dbname=deep_spring', 'ds_app', (string) getenv('DB_APP_PASSWORD'), [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
        $last = (int) $pdo->query('select max(id) from runs')->fetchColumn();
        // Asked for at both at the same time, again and again: what is under way already is not begun twice.
        $tables = ['loans', 'positions', 'readings', 'objects', 'venues'];
        $asked = [];
        foreach (range(1, 3) as $round) {
            foreach ($tables as $table) {
                foreach ([$first, $second] as $client) {
                    $asked[] = $client->postAsync("/tables/$table/refresh", ['headers' => ['X-CSRF-TOKEN' => $token]]);
                }
            }
        }
        foreach (Utils::settle($asked)->wait() as $answer) {
            self::assertLessThan(400, $answer['value']->getStatusCode());
        }
        $open = static fn (): int => (int) $pdo->query("select count(*) from runs where id > $last and state in ('queued', 'running')")->fetchColumn();
        for ($until = microtime(true) + 90; $open() > 0 && microtime(true) < $until; usleep(200_000));
        $runs = $pdo->query("select endpoint_id, state, attempt, started_at, ended_at from runs where id > $last order by endpoint_id, started_at")->fetchAll(\PDO::FETCH_ASSOC);
        self::assertSame([], array_filter($runs, static fn (array $run): bool => $run['state'] !== 'done' || (int) $run['attempt'] !== 1), (string) json_encode($runs));
        self::assertGreaterThanOrEqual(5, count($runs));
        foreach ($runs as $number => $run) {
            $before = $runs[$number - 1] ?? null;
            if ($before !== null && $before['endpoint_id'] === $run['endpoint_id']) {
                self::assertGreaterThanOrEqual($before['ended_at'], $run['started_at'], 'never two at once');
            }
        }
        $this->assertOnePace($pdo, $first, $second, $token);
        // Ending a session on one ends it on both.
        $first->post('/sign-out', ['form_params' => ['_token' => $token]]);
        self::assertSame(302, $second->get('/runs')->getStatusCode());
        self::assertSame("ready\n", (string) $this->client("http://127.0.0.1:$one")->get('/ready')->getBody());
    }

    /**
     * Two runs of one source, by workers of different processes: their requests together keep its pace.
     */
    private function assertOnePace(\PDO $pdo, Client $first, Client $second, string $token): void
    {
        $documents = $pdo->query("select d.id, d.document from source_documents d join sources s on s.id = d.source_id where s.slug = 'crate-loggers'")->fetchAll(\PDO::FETCH_KEY_PAIR);
        $faults = static fn (string $set) => file_get_contents(getenv('SPRING_STANDINS').'/crate-loggers/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: text/plain', 'content' => $set]]));
        $write = $pdo->prepare('update source_documents set document = ? where id = ?');
        $perMinute = 120;
        try {
            foreach ($documents as $id => $document) {
                $changed = json_decode((string) $document);
                $changed->source->pace = (object) (['per_minute' => $perMinute] + (array) ($changed->source->pace ?? []));
                $write->execute([json_encode($changed, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION), $id]);
            }
            // Nothing is as it was, so that every page is asked for.
            $faults('{"changed": 7}');
            $last = (int) $pdo->query('select max(id) from runs')->fetchColumn();
            $headers = ['headers' => ['X-CSRF-TOKEN' => $token]];
            Utils::settle([$first->postAsync('/tables/readings/refresh', $headers), $second->postAsync('/tables/crates/refresh', $headers)])->wait();
            $done = static fn (): int => (int) $pdo->query("select count(*) from runs where id > $last and state = 'done'")->fetchColumn();
            for ($until = microtime(true) + 90; $done() < 2 && microtime(true) < $until; usleep(200_000));
            $sent = [];
            foreach ($pdo->query("select unix_timestamp(started_at) as begun, ladder from runs where id > $last and state = 'done'")->fetchAll(\PDO::FETCH_ASSOC) as $run) {
                foreach (json_decode((string) $run['ladder'], true) as $page) {
                    $sent[] = (float) $run['begun'] + $page['start'] / 1000;
                }
            }
            sort($sent);
            self::assertGreaterThan(20, count($sent));
            $gap = 60 / $perMinute;
            // A few may go in one go; what the bucket gives after that takes its time, whoever asks.
            self::assertGreaterThan((count($sent) - 4) * $gap * 0.9, end($sent) - $sent[0]);
        } finally {
            $faults('{}');
            foreach ($documents as $id => $document) {
                $write->execute([$document, $id]);
            }
        }
    }

    public function test_a_role_ends_when_it_is_asked_to_and_the_unit_files_are_sound(): void
    {
        $worker = $this->serve('ending', ['worker']);
        $works = static fn (): bool => trim((string) @file_get_contents("/proc/$worker->pid/task/$worker->pid/children")) !== '';
        for ([$until, $worked] = [microtime(true) + 60, false]; ! $worked && microtime(true) < $until; usleep(50_000)) {
            $worked = $works();
        }
        self::assertTrue($worked, 'it has a process that works');
        posix_kill($worker->pid, SIGTERM);
        for ($until = microtime(true) + 60; $worker->isAlive() && microtime(true) < $until; usleep(50_000));
        self::assertFalse($worker->isAlive());
        foreach ((array) glob(self::root().'/deploy/systemd/*.service') as $file) {
            $unit = (string) file_get_contents((string) $file);
            preg_match('~^ExecStart=/opt/deep-spring/spring serve (\S+)~m', $unit, $role);
            self::assertContains($role[1] ?? '', ['web', 'worker', 'scheduler'], (string) $file);
            self::assertStringContainsString('User=deep-spring', $unit);
            if (is_executable('/usr/bin/systemd-analyze')) {
                exec('systemd-analyze verify --man=no '.escapeshellarg((string) $file).' 2>&1', $said);
                self::assertSame([], array_filter($said, static fn (string $line): bool => preg_match('/Unknown|Invalid|Failed to parse/', $line) === 1));
            }
        }
        $docker = (string) file_get_contents(self::root().'/deploy/Dockerfile');
        preg_match('/^ENTRYPOINT (\[.*\])$/m', $docker, $entry);
        preg_match('/^CMD (\[.*\])$/m', $docker, $command);
        self::assertSame(['php', 'app/Local/spring.php', 'serve', 'web', '--listen', '0.0.0.0:8400'], [...json_decode($entry[1] ?? '[]', true), ...json_decode($command[1] ?? '[]', true)]);
        // Whatever the one command would install is in the image.
        preg_match_all('/php8\.2-[a-z]+|nginx-light|mariadb-client/', (string) file_get_contents(self::root().'/spring').' php8.2-curl php8.2-mbstring php8.2-xml php8.2-intl php8.2-mysql php8.2-zip php8.2-bcmath php8.2-gd', $needed);
        foreach (array_unique($needed[0]) as $package) {
            self::assertStringContainsString($package, $docker);
        }
    }

    /**
     * @return array{string, string} files of a certificate that signs itself, and its key
     */
    private function certificate(): array
    {
        $key = openssl_pkey_new(['private_key_bits' => 2048]) ?: self::fail('No key.');
        $request = openssl_csr_new(['commonName' => 'localhost'], $key) ?: self::fail('No request.');
        $certificate = openssl_csr_sign($request, null, $key, 2) ?: self::fail('No certificate.');
        openssl_x509_export($certificate, $text);
        openssl_pkey_export($key, $secret);
        $files = [];
        foreach (['crt' => $text, 'key' => $secret] as $name => $content) {
            $file = sys_get_temp_dir().'/spring-test-'.getmypid().'-'.count($this->folders).".$name";
            file_put_contents($file, $content);
            $this->folders[] = $files[] = $file;
        }

        return [$files[0], $files[1]];
    }
}
