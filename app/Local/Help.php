<?php

declare(strict_types=1);

namespace App\Local;

use DeepSpring\Value\NearestName;
use Symfony\Component\Console\Application;
use Symfony\Component\Console\Descriptor\JsonDescriptor;
use Symfony\Component\Console\Output\BufferedOutput;

/**
 * What `./spring` says of itself: every command with a line, and one command with all of it. Nothing that
 * the framework brings along is among them.
 */
final readonly class Help
{
    private const RUNNING = ['up', 'down', 'status', 'serve', 'backup', 'restore', 'database-sql'];

    private const MAKING = ['kinds', 'docs', 'test', 'shots', 'bench'];

    /** Options that every command of the framework has. */
    private const COMMON = ['help', 'silent', 'quiet', 'verbose', 'version', 'ansi', 'no-ansi', 'no-interaction', 'env'];

    public function __construct(private Application $application, private Handover $handover)
    {
    }

    public function all(): string
    {
        $text = "./spring COMMAND …\n";
        foreach (['Running it' => $this->described(self::RUNNING), 'Sources, tables and people' => Handover::COMMANDS, 'Working on it' => $this->described(self::MAKING)] as $title => $commands) {
            $text .= "\n$title\n";
            foreach ($commands as $name => $description) {
                $text .= sprintf("  %-14s%s\n", $name, $description);
            }
        }

        return $text."\n./spring help COMMAND says what one of them takes.\n";
    }

    /**
     * @throws Trouble when there is no such command
     */
    public function of(string $name): string
    {
        if (isset(Handover::COMMANDS[$name])) {
            return self::written($name, (array) json_decode($this->handover->described($name), true));
        }
        if (! in_array($name, [...self::RUNNING, ...self::MAKING], true)) {
            throw $this->unknown($name);
        }
        $output = new BufferedOutput;
        (new JsonDescriptor)->describe($output, $this->application->get($name));

        return self::written($name, (array) json_decode($output->fetch(), true));
    }

    public function unknown(string $name): Trouble
    {
        $nearest = NearestName::to($name, [...self::RUNNING, ...array_keys(Handover::COMMANDS), ...self::MAKING]);

        return new Trouble("There is no command \"$name\".".($nearest === null ? '' : " \"$nearest\" was probably meant.").' ./spring help lists all of them.');
    }

    public function knows(string $name): bool
    {
        return in_array($name, [...self::RUNNING, ...self::MAKING], true);
    }

    /**
     * @param  list<string>  $names
     * @return array<string, string>
     */
    private function described(array $names): array
    {
        return array_combine($names, array_map(fn (string $name): string => $this->application->get($name)->getDescription(), $names));
    }

    /**
     * @param  array<string, mixed>  $command  as the console component describes it in JSON
     */
    private static function written(string $name, array $command): string
    {
        $lines = [];
        $usage = "./spring $name";
        foreach ($command['definition']['arguments'] ?? [] as $argument) {
            $one = strtoupper((string) $argument['name']).($argument['is_array'] ? ' …' : '');
            $usage .= $argument['is_required'] ? " $one" : " [$one]";
            $lines[] = sprintf('  %-24s%s', strtoupper((string) $argument['name']), $argument['description']);
        }
        $options = array_filter($command['definition']['options'] ?? [], static fn (string $option): bool => ! in_array($option, self::COMMON, true), ARRAY_FILTER_USE_KEY);
        foreach ($options as $option) {
            $shown = $option['name'].($option['accept_value'] ? ' …' : '');
            $lines[] = "  $shown".str_repeat(' ', max(1, 24 - mb_strlen($shown))).strip_tags((string) $option['description']);
        }

        return $usage.($options === [] ? '' : ' [OPTIONS]')."\n\n{$command['description']}.\n".($lines === [] ? '' : "\n".implode("\n", $lines)."\n");
    }
}
