<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Outlets\FeedDocumentation;
use App\Local\Child;
use App\Models\Consumer;
use App\Models\KeptTable;
use App\Models\Role;
use App\Outlets\FeedBook;
use App\Outlets\KeyRing;
use Illuminate\Support\Facades\URL;
use Tests\Lane;

/**
 * The programs of the documentation run as they stand there, and a spreadsheet opens the addresses of files.
 */
final class FeedProgramsTest extends AppTestCase
{
    use ServesItself;

    private ?Child $between = null;

    /**
     * @param  list<string>  $command
     * @param  array<string, string>  $env
     */
    private function said(array $command, array $env, string $folder): string
    {
        $process = proc_open($command, [1 => ['pipe', 'w'], 2 => ['file', "$folder/errors", 'w']], $pipes, $folder, $env + getenv());
        self::assertIsResource($process);
        $out = (string) stream_get_contents($pipes[1]);
        self::assertSame(0, proc_close($process), implode(' ', $command).": $out".file_get_contents("$folder/errors"));

        return $out;
    }

    /**
     * A spreadsheet without a screen cannot be told a password, so what stands between says it.
     */
    private function answeringForThePassword(string $folder, int $port, string $key): int
    {
        file_put_contents("$folder/router.php", <<<'PHP'
            <?php
            $to = curl_init(getenv('TO').$_SERVER['REQUEST_URI']);
            curl_setopt_array($to, [CURLOPT_RETURNTRANSFER => true, CURLOPT_CUSTOMREQUEST => $_SERVER['REQUEST_METHOD'], CURLOPT_NOBODY => $_SERVER['REQUEST_METHOD'] === 'HEAD', CURLOPT_PROXY => '', CURLOPT_USERPWD => 'any:'.getenv('KEY')]);
            $body = curl_exec($to);
            http_response_code(curl_getinfo($to, CURLINFO_RESPONSE_CODE));
            header('Content-Type: '.curl_getinfo($to, CURLINFO_CONTENT_TYPE));
            echo $body;
            PHP);
        $between = Lane::ports(8850)->web;
        $this->between = Child::start('between', [PHP_BINARY, '-S', "127.0.0.1:$between", "$folder/router.php"], ['TO' => "http://127.0.0.1:$port", 'KEY' => $key] + getenv(), '/dev/null', $folder);
        for ($until = microtime(true) + 20; @fsockopen('127.0.0.1', $between) === false && microtime(true) < $until; usleep(20_000));

        return $between;
    }

    public function test_programs_and_spreadsheets_read_every_row(): void
    {
        $owner = $this->person(Role::Analyst);
        $this->refresh($this->source(), 'loans');
        $feed = app(FeedBook::class)->draft(KeptTable::query()->where('name', 'loans')->sole(), $owner);
        app(FeedBook::class)->publish($feed, $owner);
        $consumer = Consumer::query()->create(['user_id' => $owner->id, 'name' => 'Programs', 'a_minute' => 10_000, 'at_once' => 10]);
        $consumer->feeds()->attach($feed->id);
        $key = app(KeyRing::class)->give($consumer, null, $owner);
        $ids = array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows('select loan_id from loans order by loan_id'));
        [$server, $port] = $this->served();
        $folder = sys_get_temp_dir().'/programs-'.bin2hex(random_bytes(4));
        mkdir($folder);
        try {
            URL::forceRootUrl("http://127.0.0.1:$port");
            $programs = (new FeedDocumentation($feed, KeptTable::query()->where('name', 'loans')->sole()))->programs();
            $commands = ['curl' => ['sh'], 'Python' => ['/usr/bin/python3'], 'PHP' => [PHP_BINARY], 'JavaScript' => ['node'], 'R' => ['Rscript']];
            self::assertSame(array_keys($programs), array_values(array_intersect(array_keys($programs), array_keys($commands))), 'a program is tried by nothing');
            foreach ($programs as $language => $text) {
                $file = "$folder/program".($language === 'JavaScript' ? '.mjs' : '');
                file_put_contents($file, $text);
                $out = $this->said([...$commands[$language], $file], ['FEED_KEY' => $key, 'no_proxy' => '127.0.0.1'], $folder);
                if ($language === 'R') {
                    // It reads the file and says what it is like.
                    self::assertStringContainsString("'data.frame':\t1200 obs. of  20 variables", $out);

                    continue;
                }
                $rows = $language === 'curl' ? json_decode($out, true)['rows'] : array_map(static fn (string $line): mixed => json_decode($line, true), explode("\n", trim($out)));
                self::assertSame($language === 'curl' ? array_slice($ids, 0, 5) : $ids, array_column($rows, 'loan_id'), "$language: ".mb_strimwidth($out, 0, 200));
            }
            $asking = $this->answeringForThePassword($folder, $port, $key);
            foreach (['csv', 'xlsx'] as $form) {
                $address = "http://127.0.0.1:$asking/feeds/v1/loans.$form";
                // The spreadsheet itself asks for it, and writes what it understood.
                $this->said(['soffice', '--headless', "-env:UserInstallation=file://$folder/office", '--convert-to', 'csv:Text - txt - csv (StarCalc):9,34,76,1,,0,false,true,false', '--outdir', $folder, ...($form === 'csv' ? ['--infilter=Text - txt - csv (StarCalc):44,34,76,1'] : []), $address], ['no_proxy' => '127.0.0.1'], $folder);
                $lines = array_map(static fn (string $line): array => str_getcsv($line, "\t", '"', ''), preg_split('/\n(?=\d{4}\t)/', trim((string) file_get_contents("$folder/loans.csv"))) ?: []);
                $header = array_shift($lines);
                self::assertSame(array_column($feed->columns, 'name'), $header, $form);
                self::assertSame($ids, array_map(static fn (array $line): int => (int) $line[0], $lines), $form);
                unlink("$folder/loans.csv");
            }
        } finally {
            $server->stop(1);
            $this->between?->stop(1);
            exec('rm -rf '.escapeshellarg($folder));
        }
    }
}
