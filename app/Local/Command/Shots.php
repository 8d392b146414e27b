<?php

declare(strict_types=1);

namespace App\Local\Command;

use App\Local\Child;
use App\Local\Foreground;
use App\Local\Instance;
use App\Local\Ports;
use App\Local\State;
use App\Local\Trouble;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Takes the pictures of docs/screenshots/ from an instance with nothing but the demo data.
 */
final class Shots extends Command
{
    public function __construct(private readonly string $root)
    {
        parent::__construct('shots');
    }

    protected function configure(): void
    {
        $this->setDescription('Retakes the pictures in docs/screenshots/');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        State::of("$this->root/var/shots")?->stop();
        $instance = new Instance($this->root, 'var/shots', Ports::freeFrom(8480), static function (string $text) use ($output): void {
            $output->writeln($text);
        });
        $driver = null;
        try {
            // What earlier pictures did to the stand-ins is as if it had not been.
            array_map(unlink(...), (array) glob("$instance->folder/standins/*.json"));
            $instance->database();
            $instance->artisan(['migrate:fresh', '--force'], 'The database cannot be emptied');
            $instance->application();
            $port = Ports::freeFrom(8560)->web;
            $driver = Child::start('driver', ['chromedriver', "--port=$port", '--silent'], [], "$instance->folder/log/chromedriver.log", $this->root);
            Ports::await($port, 'ChromeDriver');
            if (Foreground::run([PHP_BINARY, "$this->root/tests/Browser/shots.php", "$this->root/docs/screenshots"], $this->root, ['SPRING_DRIVER' => "http://127.0.0.1:$port"] + $instance->env) !== 0) {
                throw new Trouble('The pictures could not be taken; see above.');
            }
        } finally {
            $driver?->stop(2);
            $instance->stop();
        }

        return 0;
    }
}
