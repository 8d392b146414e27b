<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Instance;
use App\Local\MariaDb;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Tests\Lane;

/**
 * An application of its own, whose workers and whose database can be killed without harm to other tests.
 *
 * @mixin TestCase
 */
trait LivesInChaos
{
    private const BOOT = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); ';

    private Instance $instance;

    private ?Child $database = null;

    /** @var array<string, Child> */
    private array $children = [];

    /** What other tests put into the environment for themselves. */
    private const FOREIGN = ['APP_ENV', 'DB_SCHEMA', 'SESSION_DRIVER', 'CACHE_STORE', 'QUEUE_CONNECTION', 'LOG_CHANNEL', 'SPRING_QUERY_SECONDS', 'SPRING_VAR', 'DB_PORT'];

    /** @var array<string, string> */
    private array $foreign = [];

    /**
     * @param  string  $folder  below var, of this test alone
     */
    private function begin(string $folder): void
    {
        foreach (self::FOREIGN as $name) {
            if (getenv($name) !== false) {
                $this->foreign[$name] = (string) getenv($name);
                putenv($name);
            }
        }
        $root = dirname(__DIR__, 2);
        (new Process(['rm', '-rf', "$root/var/$folder"]))->mustRun();
        $this->instance = new Instance($root, "var/$folder", Lane::ports(8900), static fn () => null);
        $this->database = $this->startDatabase();
        $this->instance->prepare();
    }

    protected function tearDown(): void
    {
        foreach ($this->foreign as $name => $value) {
            putenv("$name=$value");
        }
        foreach ($this->children as $child) {
            $child->stop(0.5);
        }
        $this->database?->stop(20);
    }

    private function startDatabase(): Child
    {
        return (new MariaDb($this->instance->folder, $this->instance->ports->database, $this->instance->env))->start();
    }

    private function startWorker(string $name = 'worker'): void
    {
        $this->children[$name] = Child::start($name, $this->instance->php('artisan', 'queue:work', '--sleep=0.3', '--tries=1', '--timeout=600'), $this->instance->env, "{$this->instance->folder}/log/worker.log", $this->instance->root);
    }

    private function killWorker(string $name = 'worker'): void
    {
        posix_kill(-$this->children[$name]->pid, SIGKILL);
        $this->children[$name]->stop(0);
        unset($this->children[$name]);
    }

    private function killDatabase(): void
    {
        self::assertNotNull($this->database);
        posix_kill(-$this->database->pid, SIGKILL);
        $this->database->stop(0);
        $this->database = $this->startDatabase();
    }

    private function pdo(string $schema): \PDO
    {
        [$user, $password] = str_starts_with($schema, 'deep_spring_data') || $schema === 'information_schema' ? ['ds_keeper', $this->instance->env['DB_KEEPER_PASSWORD']] : ['ds_app', $this->instance->env['DB_APP_PASSWORD']];

        return new \PDO("mysql:host=127.0.0.1;port={$this->instance->ports->database};dbname=$schema", $user, $password, [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
    }

    private function ask(string $code): string
    {
        $process = proc_open([PHP_BINARY, '-r', self::BOOT.$code], [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, $this->instance->root, $this->instance->env + getenv());
        self::assertIsResource($process);
        $out = (string) stream_get_contents($pipes[1]);
        $errors = (string) stream_get_contents($pipes[2]);
        self::assertSame(0, proc_close($process), $out.$errors);

        return trim($out);
    }
}
