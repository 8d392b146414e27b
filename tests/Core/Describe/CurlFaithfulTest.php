<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Access\Schemes;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\Place;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Describe\Curl\CurlCommand;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Value\JsonText;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\RequestInterface;
use Tests\Core\Describe\curl\RandomCommand;
use Tests\Core\Describe\curl\Recorder;

/**
 * Commands of every option are run by curl itself, against a server that writes down what came, and
 * imported; what the endpoint would send, with the values that were in the command, is compared.
 *
 * Six things may differ, on purpose:
 * 1. Headers that are set whenever something is sent (Host, Content-Length, Accept-Encoding, Expect, …), and
 *    Accept, User-Agent and Content-Type where the command names none. Case and order of header names mean nothing.
 * 2. The spelling of an address: percent-encoding, and which name of the query comes first; a secret is last.
 * 3. The spelling of a body: blanks and escapes in JSON, percent-encoding in a form and which name comes
 *    first there, the boundary of a form with files.
 * 4. JSON that curl calls a form, since the command does not say what it is, is called JSON.
 * 5. Blanks between cookies, and which comes first.
 * 6. Of a header that stands there more than once, once with a secret, only the secret is sent, which is said.
 */
final class CurlFaithfulTest extends TestCase
{
    private const COMMANDS = 1000;

    private const AT_ONCE = 100;

    private const OWN = ['host', 'content-length', 'accept-encoding', 'expect', 'connection', 'transfer-encoding'];

    private static ?Recorder $server = null;

    public static function setUpBeforeClass(): void
    {
        self::$server = new Recorder('curl-faithful');
    }

    public static function tearDownAfterClass(): void
    {
        self::$server?->stop();
    }

    private static function server(): Recorder
    {
        return self::$server ?? self::fail('There is no server.');
    }

    public function test_what_an_endpoint_sends_is_what_curl_sends(): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        mt_srand($seed);
        $commands = array_map(static fn (): string => RandomCommand::make('http://'.self::server()->address), range(1, self::COMMANDS));
        $sent = $this->sentByCurl($commands);
        $refused = 0;
        $wrong = [];
        foreach ($commands as $number => $command) {
            if ($sent[$number] === null) {
                // Options that curl itself will not have together.
                $refused++;

                continue;
            }
            $difference = $this->difference($command, $sent[$number]);
            if ($difference !== null) {
                $wrong[] = "$command\n  → $difference";
            }
        }
        self::assertSame([], array_slice($wrong, 0, 8), count($wrong)." of the commands made with the seed $seed are sent otherwise.");
        self::assertLessThan(self::COMMANDS / 5, $refused, "Curl refused too many of the commands made with the seed $seed.");
    }

    /**
     * @param  list<string>  $commands
     * @return list<array{string, string, array<string, list<string>>, string}|null> method, target, headers and body; null where nothing was sent
     */
    private function sentByCurl(array $commands): array
    {
        $all = [];
        foreach (array_chunk($commands, self::AT_ONCE) as $some) {
            $script = '';
            foreach ($some as $command) {
                // A line of its own behind each, so that one that sends nothing can be told.
                $script .= "$command\necho - >> log\n";
            }
            $process = proc_open(['bash'], [['pipe', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']], $pipes, self::server()->folder, ['PATH' => (string) getenv('PATH'), 'HOME' => self::server()->folder, 'LC_ALL' => 'C.UTF-8']);
            self::assertIsResource($process);
            fwrite($pipes[0], $script);
            fclose($pipes[0]);
            proc_close($process);
            $last = null;
            foreach (self::server()->taken() as $request) {
                if ($request === null) {
                    $all[] = $last;
                }
                $last = $request === null ? null : array_values($request);
            }
        }
        self::assertCount(count($commands), $all);

        return $all;
    }

    /**
     * @param  array{string, string, array<string, list<string>>, string}  $curl
     */
    private function difference(string $command, array $curl): ?string
    {
        $files = new Files(Recorder::FILES);
        self::assertCount(1, CurlCommand::all($command, $files), $command);
        $described = Importers::read(new ImportInput($command, files: $files));
        $found = $described->only(null);
        if (count($found->endpoints) !== count($described->endpoints)) {
            return 'not kept: '.implode(' ', array_map(static fn (ImportNotice $one): string => $one->what, $found->mends));
        }
        $ask = AskDefinition::of($found->endpoints[0]->endpoint['ask']);
        $given = $ask->tryValues();
        foreach ($ask->inputs as $input) {
            // A password is not kept, and a placeholder of a path is for somebody to fill in.
            $given += $input->private && $input->fixed === null ? [$input->name => ['open sesame']] : [];
            $given += $input->in === Place::Path ? [$input->name => ['{id}']] : [];
        }
        $secrets = $found->secrets + ['token' => 'YOUR_KEY', 'password' => '', 'username' => '', 'session' => ''] + self::placeholders($found->access, $curl);
        try {
            $built = (new RequestBuilder($found->bases[0], $found->headers, [], array_values(Schemes::all($found->access))))->build($ask, $given, new GivenSecrets($secrets));
        } catch (InvalidInput $invalid) {
            return $invalid->getMessage();
        }
        foreach ($found->mends as $one) {
            if (preg_match('/Another value of the header ([\w-]+): what is sent/', $one->what, $part) === 1) {
                // Whichever of them is the secret.
                $curl[2][strtolower($part[1])] = array_intersect($built->getHeader($part[1]), $curl[2][strtolower($part[1])]);
            }
        }

        return self::compared($built, $curl);
    }

    /**
     * What curl sent where the importer sees the place of a secret and keeps none.
     *
     * @param  list<array<string, mixed>>  $access
     * @param  array{string, string, array<string, list<string>>, string}  $curl
     * @return array<string, string>
     */
    private static function placeholders(array $access, array $curl): array
    {
        parse_str((string) parse_url($curl[1], PHP_URL_QUERY), $query);
        $sent = [];
        foreach ($access as $one) {
            if (isset($one['value']['secret'], $one['in'])) {
                $sent[$one['value']['secret']] = (string) ($one['in'] === 'query' ? $query[$one['name']] ?? '' : $curl[2][strtolower((string) $one['name'])][0] ?? '');
            }
        }

        return $sent + ['key' => ''];
    }

    /**
     * @param  array{string, string, array<string, list<string>>, string}  $curl
     */
    private static function compared(RequestInterface $built, array $curl): ?string
    {
        [$method, $target, $headers, $body] = $curl;
        [$path, $query] = explode('?', $target, 2) + [1 => ''];
        $ourType = strtolower($built->getHeaderLine('content-type'));
        $curlType = strtolower($headers['content-type'][0] ?? '');
        $ours = [];
        foreach ($built->getHeaders() as $name => $values) {
            $ours[strtolower((string) $name)] = array_map(trim(...), $values);
        }
        if (($headers['accept'] ?? []) === ['*/*']) {
            unset($headers['accept'], $ours['accept']);
        }
        if (str_starts_with($headers['user-agent'][0] ?? '', 'curl/')) {
            unset($headers['user-agent']);
        }
        if (! isset($headers['content-type']) && str_starts_with($ourType, 'text/plain')) {
            unset($ours['content-type']);
        }
        foreach (self::OWN as $name) {
            unset($headers[$name], $ours[$name]);
        }
        if ($curlType === 'application/x-www-form-urlencoded' && $ourType === 'application/json' && json_decode($body) !== null) {
            unset($headers['content-type'], $ours['content-type']);
        }
        if (str_starts_with($curlType, 'multipart/') && str_starts_with($ourType, 'multipart/')) {
            unset($headers['content-type'], $ours['content-type']);
        }
        foreach ([&$headers, &$ours] as &$all) {
            if (isset($all['cookie'])) {
                $all['cookie'] = preg_split('/;\s*/', implode(';', $all['cookie'])) ?: [];
                sort($all['cookie']);
            }
            ksort($all);
        }
        unset($all);

        return match (true) {
            $built->getMethod() !== $method => "method {$built->getMethod()}, not $method",
            self::path($built->getUri()->getPath()) !== self::path($path) => "path {$built->getUri()->getPath()}, not $path",
            self::pairs($built->getUri()->getQuery()) !== self::pairs($query) => "query {$built->getUri()->getQuery()}, not $query",
            $ours !== $headers => 'headers '.json_encode($ours).', not '.json_encode($headers),
            ! self::isSame((string) $built->getBody(), $ourType, $body, $curlType) => 'body '.$built->getBody().", not $body",
            default => null,
        };
    }

    /**
     * @return list<string>
     */
    private static function path(string $path): array
    {
        return array_map(rawurldecode(...), explode('/', $path === '' ? '/' : $path));
    }

    /**
     * @return array<string, list<string|null>>
     */
    private static function pairs(string $query): array
    {
        $pairs = [];
        foreach (array_filter(explode('&', $query), static fn (string $pair): bool => $pair !== '') as $pair) {
            $parts = array_map(urldecode(...), explode('=', $pair, 2));
            $pairs["=$parts[0]"][] = $parts[1] ?? null;
        }
        ksort($pairs);

        return $pairs;
    }

    private static function isSame(string $ours, string $ourType, string $theirs, string $theirType): bool
    {
        return $ours === $theirs
            || str_contains($ourType, 'json') && JsonText::canonical($ours) === JsonText::canonical($theirs)
            || $ourType === 'application/x-www-form-urlencoded' && self::pairs($ours) === self::pairs($theirs)
            || str_starts_with($ourType, 'multipart/') && self::parts($ourType, $ours) === self::parts($theirType, $theirs);
    }

    /**
     * @return list<array{string, string|null, string|null, string}> name, file name, type and content
     */
    private static function parts(string $type, string $body): array
    {
        preg_match('/boundary=(\S+)/', $type, $boundary);
        $parts = [];
        foreach (array_slice((array) preg_split('/(?:^|\r\n)--'.preg_quote($boundary[1] ?? '', '/').'/i', $body), 1, -1) as $part) {
            [$head, $content] = explode("\r\n\r\n", (string) $part, 2);
            $value = static fn (string $regex): ?string => preg_match($regex, $head, $found) === 1 ? strtr($found[1], ['%22' => '"', '\\"' => '"', '\\\\' => '\\']) : null;
            $parts[] = [(string) $value('/ name="((?:[^"\\\\]|\\\\.)*)"/'), $value('/filename="((?:[^"\\\\]|\\\\.)*)"/'), $value('/content-type: ([^\r\n]+)/i'), $content];
        }

        return $parts;
    }
}
