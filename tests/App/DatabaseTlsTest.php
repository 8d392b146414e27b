<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Account;
use App\Local\Child;
use App\Local\Folders;
use App\Local\MariaDb;
use App\Models\Role;
use App\Queries\QueryRunner;
use App\Reservoir\ReaderAccounts;
use Tests\Lane;

/**
 * A database that stands elsewhere: reached over TLS, and only if it is the one it should be.
 */
final class DatabaseTlsTest extends AppTestCase
{
    private ?Child $database = null;

    private string $folder = '';

    private int $there = 0;

    protected function setUp(): void
    {
        parent::setUp();
        $this->folder = base_path('var/test-database');
        exec('rm -rf '.escapeshellarg($this->folder));
        (new Folders($this->folder, Account::application()))->ensure();
        mkdir("$this->folder/tls", 0711);
        $this->certificate('server', 'subjectAltName=IP:127.0.0.1');
        $this->certificate('stranger', 'subjectAltName=DNS:elsewhere.example');
        Account::database()->own("$this->folder/tls/server.key");
        $port = Lane::ports(8880)->database;
        $env = ['DB_APP_PASSWORD' => 'app-password', 'DB_KEEPER_PASSWORD' => 'keeper-password', 'DB_BACKUP_PASSWORD' => 'backup-password'];
        $this->database = (new MariaDb($this->folder, $port, $env, ["--ssl-cert=$this->folder/tls/server.crt", "--ssl-key=$this->folder/tls/server.key"]))->start();
        $this->there = $port;
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        $this->database?->stop(20);
        exec('rm -rf '.escapeshellarg($this->folder));
    }

    private function certificate(string $name, string $san): void
    {
        $file = "$this->folder/tls/$name";
        exec("openssl req -x509 -newkey rsa:2048 -nodes -days 2 -subj /CN=$name -addext ".escapeshellarg($san)." -keyout $file.key -out $file.crt 2>&1", $said, $code);
        self::assertSame(0, $code, implode("\n", $said));
        chmod("$file.crt", 0644);
    }

    /**
     * @return array<int, mixed>
     */
    private function secured(string $authority): array
    {
        putenv('DB_TLS_CA='.($_ENV['DB_TLS_CA'] = $_SERVER['DB_TLS_CA'] = "$this->folder/tls/$authority.crt"));
        try {
            return (require base_path('config/database.php'))['connections']['keeper']['options'];
        } finally {
            putenv('DB_TLS_CA');
            unset($_ENV['DB_TLS_CA'], $_SERVER['DB_TLS_CA']);
        }
    }

    private function connected(string $authority): string
    {
        $pdo = new \PDO("mysql:host=127.0.0.1;port=$this->there;dbname=deep_spring", 'ds_app', 'app-password', [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION] + array_diff_key($this->secured($authority), [\PDO::MYSQL_ATTR_LOCAL_INFILE => 1]));

        return (string) $pdo->query("show session status like 'Ssl_cipher'")->fetchColumn(1);
    }

    public function test_connections_are_encrypted_and_the_server_has_to_be_the_right_one(): void
    {
        self::assertNotSame('', $this->connected('server'));
        $this->expectException(\PDOException::class);
        // A certificate of somebody else is no authority for this one.
        @$this->connected('stranger');
    }

    public function test_readers_and_loaders_connect_the_same_way(): void
    {
        $source = $this->source('stores');
        $this->refresh($source, 'positions');
        $analyst = $this->person(Role::Analyst);
        // The same server, asked for TLS: what readers are given is what the settings say.
        config(['database.connections.keeper.options' => $this->secured('server')]);
        try {
            app(ReaderAccounts::class)->connect($analyst, $this->trial(), 5);
            self::fail('It connected to a server that is not the one of this certificate.');
        } catch (\PDOException $refused) {
            self::assertMatchesRegularExpression('/SSL|TLS|certificate|gone away|2006|2002/i', $refused->getMessage());
        }
        config(['database.connections.keeper.options' => [\PDO::MYSQL_ATTR_LOCAL_INFILE => true]]);
        self::assertCount(1, app(QueryRunner::class)->run($analyst, $this->trial(), 'select count(*) from positions')->rows);
    }

    public function test_statements_for_a_database_elsewhere_name_the_host_of_the_clients(): void
    {
        $sql = \App\Local\DatabaseAccounts::sql(['DB_APP_PASSWORD' => 'a', 'DB_KEEPER_PASSWORD' => 'b', 'DB_BACKUP_PASSWORD' => 'c', 'DB_CLIENT_HOST' => '10.0.0.%'], '', ['deep_spring']);
        self::assertStringContainsString("CREATE USER IF NOT EXISTS 'ds_keeper'@'10.0.0.%'", $sql);
        self::assertStringNotContainsString('root', $sql);
        self::assertStringNotContainsString('127.0.0.1', $sql);
        $administrator = (new MariaDb($this->folder, $this->there, []))->administrator();
        foreach (array_filter(explode("\n", $sql)) as $statement) {
            $administrator->exec($statement);
        }
        self::assertSame(3, (int) $administrator->query("select count(*) from mysql.global_priv where Host = '10.0.0.%'")->fetchColumn());
    }
}
