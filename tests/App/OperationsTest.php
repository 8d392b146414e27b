<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\MariaDb;
use App\Local\State;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/**
 * The life of an installation, each in a place of its own: set up, backed up, restored, upgraded, and
 * what happens when something is lost.
 */
final class OperationsTest extends TestCase
{
    /** @var list<Place> */
    private array $places = [];

    /** @var list<string> */
    private array $files = [];

    private function place(int $from): Place
    {
        return $this->places[] = new Place($from);
    }

    private function file(string $name): string
    {
        return $this->files[] = sys_get_temp_dir()."/spring-$name-".getmypid();
    }

    protected function tearDown(): void
    {
        foreach ($this->places as $place) {
            $place->leave();
        }
        array_map(static fn (string $file) => @unlink($file), $this->files);
    }

    public function test_a_backup_from_the_middle_of_a_refresh_is_put_back_elsewhere_and_works(): void
    {
        $one = $this->place(9200);
        [$code, $said, $errors] = $one->spring(['up', '--detach', '--port', (string) $one->port]);
        self::assertSame(0, $code, $errors);
        preg_match_all('/^\s+(Builder|Analyst|Administrator)\s+\S+@saltmarsh\.example\s+(\S+)$/m', $said, $people);
        self::assertSame(['Builder', 'Analyst', 'Administrator'], $people[1], $said);
        self::assertCount(3, array_unique($people[2]), 'each has a password of their own');
        self::assertSame("ready\n", $one->answer('/ready'));
        [$code, $status] = $one->spring(['status']);
        self::assertSame([0, false], [$code, str_contains($status, 'Careful')], $status);

        $sums = static function (Place $place): array {
            $pdo = $place->database('deep_spring_data_trial', 'keeper');
            $tables = $pdo->query("select table_name from information_schema.tables where table_schema = 'deep_spring_data_trial' and table_name not like 'stage%' and table_name not like 'pages%' order by 1")->fetchAll(\PDO::FETCH_COLUMN);
            $sums = [];
            foreach ($tables as $table) {
                $sums[$table] = $pdo->query("checksum table `$table` extended")->fetch(\PDO::FETCH_NUM)[1];
            }

            return $sums;
        };
        [$code, $out, $errors] = $one->spring(['change', 'loans', '--by', 'tomas@saltmarsh.example', '--environment', 'trial', '--where', 'loan_id == 8812', '--set', 'note=Two people', '--send']);
        self::assertSame(0, $code, $out.$errors);
        $journal = static fn (Place $of): array => $of->database('deep_spring_log')->query('select record, person_name, outcome, after_ from journal')->fetchAll(\PDO::FETCH_NUM);
        self::assertSame([['8812', 'done', '{"note":"Two people"}']], array_map(static fn (array $one): array => [$one[0], $one[2], $one[3]], $journal($one)));
        $before = $sums($one);
        self::assertGreaterThan(6, count($before));
        // A run that is under way while the backup is made.
        $pdo = $one->database();
        $run = static fn (\PDO $of): array => $of->query('select state, pages, tables from runs order by id desc limit 1')->fetch(\PDO::FETCH_NUM);
        $refresh = new Process(['./spring', 'refresh', 'crate-loggers/readings'], $one->root, ['PATH' => getenv('PATH'), 'HOME' => getenv('HOME')] + array_fill_keys(array_keys(getenv()), false), timeout: 120);
        // Each page takes its time, so that it is not over before the backup is.
        file_get_contents('http://127.0.0.1:'.($one->port + 1).'/crate-loggers/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: application/json', 'content' => '{"changed": 1, "storm": {"slow": 1.0}}']]));
        $refresh->start();
        for ($until = microtime(true) + 30; ($run($pdo)[0] !== 'running' || $run($pdo)[1] < 1) && $refresh->isRunning() && microtime(true) < $until; usleep(20_000));
        self::assertSame('running', $run($pdo)[0], $refresh->getOutput().$refresh->getErrorOutput());
        $file = $this->file('backup');
        $words = $this->file('words');
        file_put_contents($words, "four words of salt\n");
        [$code, , $errors] = $one->spring(['backup', $file, '--passphrase-file', $words]);
        self::assertSame(0, $code, $errors);
        self::assertSame('running', $run($pdo)[0], 'it was made in the middle');
        file_get_contents('http://127.0.0.1:'.($one->port + 1).'/crate-loggers/_faults', false, stream_context_create(['http' => ['method' => 'PUT', 'header' => 'Content-Type: application/json', 'content' => '{}']]));
        $refresh->wait();
        self::assertSame(0600, fileperms($file) & 0777);
        self::assertStringNotContainsString('saltmarsh', (string) file_get_contents($file), 'it is sealed');
        self::assertSame(1, $one->spring(['backup', $file])[0], 'nothing is written over');
        self::assertStringContainsString('there already', $one->spring(['restore', $file])[2].$one->spring(['backup', $file])[2]);

        $two = $this->place(9240);
        file_put_contents($wrong = $this->file('wrong'), 'other words');
        foreach ([[$file, $wrong, 'not the one'], [$file, null, 'sealed']] as [$from, $with, $sentence]) {
            [$code, , $errors] = $two->spring(['restore', $from, ...($with === null ? [] : ['--passphrase-file', $with])]);
            self::assertSame(1, $code);
            self::assertStringContainsString($sentence, $errors);
        }
        file_put_contents($cut = $this->file('cut'), substr((string) file_get_contents($file), 0, -2000));
        [$code, , $errors] = $two->spring(['restore', $cut, '--passphrase-file', $words, '--port', (string) $two->port]);
        self::assertSame(1, $code);
        self::assertStringContainsString('damaged, or was cut off', $errors);
        self::assertFileDoesNotExist("$two->root/.env", 'half a backup is not left in place');
        self::assertDirectoryDoesNotExist("$two->root/var/mariadb");

        [$code, , $errors] = $two->spring(['restore', $file, '--passphrase-file', $words, '--port', (string) $two->port]);
        self::assertSame(0, $code, $errors);
        [$code, $said, $errors] = $two->spring(['up', '--detach', '--port', (string) $two->port]);
        self::assertSame(0, $code, $errors);
        self::assertStringContainsString($people[2][0], $said, 'the same people with the same passwords');
        $after = $sums($two);
        self::assertSame($before, array_intersect_key($after, $before), 'every table as it was when the backup was made');
        [$code, $out, $errors] = $two->spring(['try', 'stores/positions', '--environment', 'trial']);
        self::assertSame(0, $code, "its secrets are there, and its source leads to its own stand-ins: $errors");
        self::assertSame(0, $two->spring(['query', 'select count(*) from loans', '--as', 'csv', '--environment', 'trial'])[0]);
        self::assertSame($journal($one), $journal($two), 'the journal came along');
        // The run that was under way is begun again by itself.
        $pdo = $two->database();
        for ($until = microtime(true) + 90; $run($pdo)[0] !== 'done' && microtime(true) < $until; usleep(200_000));
        self::assertSame('done', $run($pdo)[0]);
        self::assertGreaterThan(0, (int) $two->database('deep_spring_log')->query("select count(*) from entries where action = 'source added'")->fetchColumn(), 'the log came along');
    }

    public function test_data_of_the_version_before_are_upgraded_and_of_a_newer_one_refused(): void
    {
        $place = $this->place(9280);
        $folder = "$place->root/var";
        $old = __DIR__.'/upgrade';
        mkdir("$folder/keys", 0700, true);
        mkdir("$folder/log", 0700);
        copy("$old/settings", "$place->root/.env");
        copy("$old/secrets.key", "$folder/keys/secrets.key");
        chmod("$folder/keys/secrets.key", 0600);
        chmod("$place->root/.env", 0600);
        (new \App\Local\Folders($folder, \App\Local\Account::application()))->ensure();
        $settings = $place->settings();
        // As the version before had it: root with a password, and accounts that needed none.
        $server = new MariaDb($folder, $place->port + 3, $settings + ['DB_BACKUP_PASSWORD' => 'x']);
        $database = $server->start();
        foreach (['deep_spring', 'deep_spring_data_trial'] as $schema) {
            $load = Process::fromShellCommandline('zcat '.escapeshellarg("$old/$schema.sql.gz").' | mariadb --no-defaults --socket=server.sock --user='.MariaDb::caller()." $schema", "$folder/mariadb", timeout: 60);
            $load->mustRun();
        }
        $server->administrator()->exec("create user 'root'@'127.0.0.1'");
        $database->stop(30);

        [$code, $said, $errors] = $place->spring(['up', '--detach', '--port', (string) $place->port]);
        self::assertSame(0, $code, $errors);
        preg_match_all('/@saltmarsh\.example\s+(\S+)$/m', $said, $passwords);
        self::assertCount(3, array_unique($passwords[1]), 'the one password for three people is gone');
        self::assertNotContains($settings['SPRING_DEMO_PASSWORD'], $passwords[1]);
        self::assertSame("ready\n", $place->answer('/ready'));
        self::assertStringNotContainsString('Careful', $place->spring(['status'])[1]);
        self::assertSame(0, $place->spring(['query', 'select count(*) from loans', '--environment', 'trial'])[0]);
        $pdo = $place->database();
        self::assertSame(0, (int) $pdo->query('select count(*) from secrets where origins is null or json_length(origins) = 0')->fetchColumn(), 'every secret belongs to an address');
        self::assertSame(7, (int) $pdo->query('select count(*) from sources')->fetchColumn());

        $place->spring(['down']);
        // Started again, it finds nothing to do; of a newer version it keeps its hands off.
        [$code, , $errors] = $place->spring(['up', '--detach', '--port', (string) $place->port]);
        self::assertSame(0, $code, $errors);
        $place->database()->exec("insert into migrations (migration, batch) values ('2099_01_01_000000_create_tomorrow', 99)");
        $place->spring(['down']);
        [$code, , $errors] = $place->spring(['up', '--detach', '--port', (string) $place->port]);
        self::assertSame(1, $code);
        self::assertStringContainsString('made by a newer version of this application (2099_01_01_000000_create_tomorrow)', $errors);
        self::assertStringNotContainsString('Stack', $errors);
    }

    public function test_a_lost_key_is_told_and_the_first_administrator_and_the_supervisor_are_looked_after(): void
    {
        $place = $this->place(9320);
        $up = ['up', '--detach', '--no-demo', '--port', (string) $place->port];
        [$code, $said, $errors] = $place->spring($up);
        self::assertSame(0, $code, $errors);
        preg_match('~http://127\.0\.0\.1:\d+(/invitations/\S+)~', $said, $link);
        self::assertNotEmpty($link, $said);
        self::assertStringContainsString('first administrator', $place->answer($link[1]));
        self::assertSame(0, (int) $place->database()->query('select count(*) from users')->fetchColumn());
        self::assertSame(0, (int) $place->database()->query('select count(*) from sources')->fetchColumn(), 'it begins empty');

        // Something is sealed from now on.
        file_put_contents($source = $this->file('source'), "deepspring: 1\nsource: {slug: lab, name: Lab, environments: {trial: {base: 'https://lab.saltmarsh.example'}}, access: [{scheme: bearer, token: {secret: door}}]}\n");
        [$code, , $errors] = $place->spring(['import', $source, '--secret', 'door=a-token-for-the-lab', '--environment', 'trial']);
        self::assertSame(0, $code, $errors);
        self::assertSame(posix_geteuid() === 0 ? 'deep-spring' : posix_getpwuid(posix_geteuid())['name'], posix_getpwuid((int) fileowner("$place->root/var/keys/secrets.key"))['name'] ?? '');

        // Whoever looks after the processes is killed: status says what is left, down ends it.
        $state = State::of("$place->root/var") ?? self::fail('It does not run.');
        posix_kill($state->supervisor->pid, SIGKILL);
        for ($until = microtime(true) + 60; $state->supervisor->isAlive() && microtime(true) < $until; usleep(20_000));
        [$code, $said] = $place->spring(['status']);
        self::assertSame(1, $code);
        self::assertStringContainsString('The supervisor has ended, and left running:', $said);
        self::assertStringContainsString('web', $said);
        self::assertSame("up\n", $place->answer('/up'));
        $place->spring(['down']);
        self::assertSame('', $place->answer('/up'));

        // The key file is lost.
        $key = "$place->root/var/keys/secrets.key";
        rename($key, "$key.lost");
        [$code, , $errors] = $place->spring($up);
        self::assertSame(1, $code);
        self::assertStringContainsString('is gone, and the database holds what it sealed: door of Lab in Trial', $errors);
        self::assertStringContainsString('--forget-secrets', $errors);
        self::assertFileDoesNotExist($key, 'no new one takes its place');
        file_put_contents($key, base64_encode(random_bytes(32))."\n");
        chmod($key, 0600);
        posix_geteuid() === 0 && chown($key, 'deep-spring');
        [$code, , $errors] = $place->spring($up);
        self::assertSame(1, $code);
        self::assertStringContainsString('is not the one that secrets were sealed with', $errors);
        rename("$key.lost", $key);
        self::assertSame(0, $place->spring($up)[0], 'with the file back it goes on');
        $place->spring(['down']);
        unlink($key);
        [$code, $said, $errors] = $place->spring([...$up, '--forget-secrets']);
        self::assertSame(0, $code, $errors);
        self::assertStringContainsString('door of Lab in Trial', $said);
        self::assertSame(0, (int) $place->database()->query('select count(*) from secrets')->fetchColumn());
    }

    public function test_it_runs_as_whoever_is_not_root(): void
    {
        if (posix_geteuid() !== 0) {
            self::markTestSkipped('Every other test here does that already.');
        }
        $place = $this->place(9380);
        (new Process(['chown', '-R', 'nobody', $place->root]))->mustRun();
        $as = static function (string ...$words) use ($place): array {
            $process = new Process(['setpriv', '--reuid=nobody', '--regid=nogroup', '--clear-groups', './spring', ...$words], $place->root, ['HOME' => '/nonexistent', 'PATH' => getenv('PATH')] + array_fill_keys(array_keys(getenv()), false), timeout: 120);
            $process->run();

            return [$process->getExitCode(), $process->getOutput(), $process->getErrorOutput()];
        };
        try {
            [$code, $said, $errors] = $as('up', '--detach', '--no-demo', '--port', (string) $place->port);
            self::assertSame(0, $code, $errors);
            self::assertStringContainsString('/invitations/', $said);
            self::assertStringNotContainsString('Stand-ins', $said);
            self::assertSame("ready\n", $place->answer('/ready'));
            [$code, $status] = $as('status');
            self::assertSame([0, false], [$code, str_contains($status, 'Careful')], $status);
            self::assertSame('nobody', posix_getpwuid((int) fileowner("$place->root/var/mariadb"))['name'] ?? '');
            self::assertSame(0, $as('person', 'list')[0]);
        } finally {
            $as('down');
        }
    }

    public function test_who_may_not_is_told_so_and_a_wrong_word_is_a_wrong_word(): void
    {
        $place = $this->place(9360);
        foreach ([['up', '--port', 'x'], ['up', '--url', 'tables'], ['up', '--tls', '/nowhere.crt'], ['up', 'stray'], ['serve', 'dance'], ['serve', 'web', '--listen', 'x'], ['up', '--nonsense'], ['restore']] as $words) {
            [$code, , $errors] = $place->spring($words);
            self::assertSame(2, $code, implode(' ', $words));
            self::assertStringNotContainsString('.php', $errors);
        }
        foreach ([['database-sql'], ['backup', '/tmp/x'], ['try', 'x'], ['restore', '/nowhere'], ['up', '--tls', '/nowhere.crt', '/nowhere.key']] as $words) {
            [$code, , $errors] = $place->spring($words);
            self::assertSame(1, $code, implode(' ', $words).$errors);
            self::assertStringNotContainsString('.php', $errors);
        }
        if (posix_geteuid() === 0) {
            // Another account in a folder that is not its own.
            chmod($place->root, 0755);
            $as = new Process(['setpriv', '--reuid=nobody', '--regid=nogroup', '--clear-groups', 'sh', '-c', './spring up --port '.$place->port.'; echo "code $?"'], $place->root, ['HOME' => '/nonexistent'], timeout: 60);
            $as->run();
            self::assertStringContainsString('code 1', $as->getOutput());
            self::assertMatchesRegularExpression('/may not install packages in it|cannot be made|not yours/', $as->getErrorOutput());
            self::assertStringNotContainsString('Stack trace', $as->getErrorOutput());
        }
    }
}
