<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Account;
use App\Local\Child;
use App\Local\EnvFile;
use App\Local\Folders;
use App\Local\Foreground;
use App\Local\Instance;
use App\Local\Roles;
use App\Local\ServerCertificate;
use App\Local\Trouble;
use App\Local\Web\WebServer;
use App\Local\Web\WebSettings;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * One role in the foreground, for systemd or a container. Database and cache are those of the
 * settings (.env or the environment), wherever they stand.
 */
final class Serve extends Command
{
    private const ROLES = ['web', 'worker', 'scheduler', 'upgrade'];

    private bool $stopAsked = false;

    public function __construct(private readonly string $root)
    {
        parent::__construct('serve');
    }

    protected function configure(): void
    {
        $this->setDescription('Runs one role in the foreground: web, worker, scheduler; or upgrades the database and ends')
            ->addArgument('role', InputArgument::REQUIRED, implode(', ', self::ROLES))
            ->addArgument('key', InputArgument::OPTIONAL, 'The key of the certificate (PEM)')
            ->addOption('listen', null, InputOption::VALUE_REQUIRED, 'Address and port of the web server', '127.0.0.1:8400')
            ->addOption('tls', null, InputOption::VALUE_REQUIRED, 'Serve https with this certificate (PEM) and the key that follows it')
            ->addOption('pages', null, InputOption::VALUE_REQUIRED, 'Processes that answer pages', '8')
            ->addOption('slow', null, InputOption::VALUE_REQUIRED, 'Processes that answer what may take long', '8')
            ->addOption('count', null, InputOption::VALUE_REQUIRED, 'Workers', '1')
            ->addOption('var', null, InputOption::VALUE_REQUIRED, 'Folder for logs and temporary files, relative to the application');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $role = (string) $input->getArgument('role');
        $wrong = $this->wrong($input, $role);
        if ($wrong !== null) {
            fwrite(STDERR, "$wrong\n");

            return 2;
        }
        $file = "$this->root/.env";
        $settings = is_readable($file) ? (new EnvFile($file))->read() : [];
        $var = $input->getOption('var');
        $var = is_string($var) ? trim($var, '/') : (getenv('SPRING_VAR') ?: $settings['SPRING_VAR'] ?? 'var');
        if ((getenv('APP_KEY') ?: $settings['APP_KEY'] ?? '') === '') {
            throw new Trouble('There are no settings: APP_KEY and the accounts of the database have to stand in .env or in the environment. See docs/operations.md.');
        }
        $folder = "$this->root/$var";
        $account = Account::application();
        (new Folders($folder, $account))->ensure();
        // What stands in the environment goes before the file, as it does for the application itself.
        $env = Instance::caches($folder) + ['SPRING_VAR' => $var] + array_diff_key($settings, getenv());
        if ($role === 'upgrade') {
            return Foreground::run([...$account->command(Roles::php("$this->root/artisan", 'spring:prepare', '--no-demo'))], $this->root, $env);
        }

        return $this->stay($role, $input, $folder, $account, $env);
    }

    private function wrong(InputInterface $input, string $role): ?string
    {
        $number = static fn (string $name, int $most): bool => ctype_digit((string) $input->getOption($name)) && (int) $input->getOption($name) >= 1 && (int) $input->getOption($name) <= $most;

        return match (true) {
            ! in_array($role, self::ROLES, true) => 'The roles are '.implode(', ', self::ROLES).'.',
            preg_match('/^(\[[0-9a-f:.]+\]|[0-9.]+):\d{1,5}$/iD', (string) $input->getOption('listen')) !== 1 => '--listen takes an address and a port, like 127.0.0.1:8400 or 0.0.0.0:8400.',
            ! $number('pages', 256), ! $number('slow', 256), ! $number('count', 64) => '--pages, --slow and --count take a number from 1.',
            default => UpOptions::certificate($input),
        };
    }

    /**
     * @param  array<string, string>  $env
     */
    private function stay(string $role, InputInterface $input, string $folder, Account $account, array $env): int
    {
        foreach ([SIGINT, SIGTERM, SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopAsked = true;
            });
        }
        pcntl_async_signals(true);
        $starts = $this->starts($role, $input, $folder, $account, $env);
        /** @var array<string, Child> $children */
        $children = [];
        try {
            while (! $this->stopAsked) {
                foreach ($starts as $name => $start) {
                    if (isset($children[$name]) && ! $children[$name]->isAlive() && $role === 'web') {
                        // Whoever looks after us starts us anew as a whole.
                        throw new Trouble("$name has ended; see $folder/log/.");
                    }
                    if (! isset($children[$name]) || ! $children[$name]->isAlive()) {
                        $children[$name] = $start();
                    }
                }
                usleep(300_000);
            }
        } finally {
            // A worker ends after the job in hand; a run that is cut short is gone on with by another.
            foreach (array_reverse($children) as $child) {
                $child->stop($role === 'worker' ? 8 : 3);
            }
        }

        return 0;
    }

    /**
     * @param  array<string, string>  $env
     * @return array<string, \Closure(): Child>
     */
    private function starts(string $role, InputInterface $input, string $folder, Account $account, array $env): array
    {
        $log = static fn (string $name): string => "$folder/log/$name.log";
        if ($role === 'web') {
            preg_match('/^(.*):(\d+)$/', (string) $input->getOption('listen'), $listen);
            $certificate = $input->getOption('tls');
            $files = is_string($certificate) ? ServerCertificate::install($certificate, (string) $input->getArgument('key'), "$folder/keys", $account) : null;
            $settings = new WebSettings($this->root, $folder, trim($listen[1], '[]'), (int) $listen[2], (int) $input->getOption('pages'), (int) $input->getOption('slow'), $files);
            $server = new WebServer($settings, $account, $env);

            return ['pools' => $server->pools(...), 'web' => $server->front(...)];
        }
        if ($role === 'scheduler') {
            return ['scheduler' => fn (): Child => Child::start('scheduler', Roles::scheduler($this->root), $env, $log('scheduler'), $this->root, $account)];
        }
        $starts = [];
        for ($number = 1; $number <= (int) $input->getOption('count'); $number++) {
            $starts["worker $number"] = fn (): Child => Child::start("worker $number", Roles::worker($this->root), Roles::WORKER + $env, $log('worker'), $this->root, $account);
        }

        return $starts;
    }
}
