<?php

declare(strict_types=1);

namespace App\Console;

use App\Models\Run;
use App\Models\RunState;
use App\Runs\Refresh;
use App\View\Show;
use Illuminate\Console\OutputStyle;
use Symfony\Component\Console\Helper\ProgressBar;
use Symfony\Component\Console\Output\ConsoleOutputInterface;

/**
 * A run, done while somebody looks on: how far it is, and what became of it.
 */
final readonly class WatchedRun
{
    /**
     * @param  \Closure(string): void  $say
     */
    public function __construct(private OutputStyle $output, private \Closure $say)
    {
    }

    /**
     * @return bool whether the tables are in place
     */
    public function show(Refresh $refresh, Run $run): bool
    {
        $output = $this->output->getOutput();
        $bar = new ProgressBar($output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output);
        $bar->setFormat(' %message% [%bar%] %elapsed%');
        $bar->setMessage('waiting for the first page');
        $bar->start();
        $run = $refresh->run($run, static function (Run $run) use ($bar): void {
            $bar->setMessage(Show::count($run->pages, $run->lookup === null ? 'page' : 'row').($run->lookup === null ? ', ' : ' asked for, ').Show::count($run->records, 'record').', '.Show::count($run->rows, 'row').' loaded');
            $bar->advance();
        });
        $bar->clear();
        if ($run->state === RunState::Done) {
            ($this->say)(Show::count($run->rows, 'row').' kept, '.Show::count($run->rejects, 'reject').'. '.$run->ended);
            foreach ($run->findings ?? [] as $finding) {
                ($this->say)(($finding['doubt'] ? 'In doubt: ' : '').$finding['sentence']);
            }

            return true;
        }
        ($this->say)(($run->diagnosis === null ? (string) $run->ended : $run->diagnosis['what'].' '.$run->diagnosis['advice']).($run->continuable ? " What was read is kept: ./spring runs $run->id --go-on" : ''));

        return false;
    }
}
