<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnection;
use App\Pipeline\SourceConnections;
use App\Transport\Sent;
use DeepSpring\Access\SecretMask;

/**
 * Connections of runs: what is secret of them is masked in the log, and requests for tokens that fail are kept.
 */
final readonly class RunConnections
{
    public function __construct(private SourceConnections $connections, private EvidenceWriter $evidence)
    {
    }

    /**
     * @throws ReadingFailed when there is no usable secret or variable
     */
    public function open(RunWork $work): SourceConnection
    {
        $run = $work->run;
        $connection = $this->connections->open($run->endpoint->source, $work->source, $run->environment);
        $work->recorder->mask = $connection->mask(...);
        $connection->recordTokens(function (Sent $sent, SecretMask $mask) use ($run): void {
            if ($sent->status === null || $sent->status >= 400) {
                $this->evidence->write($sent, $mask, 0, null, runId: $run->id, purpose: EvidenceWriter::TOKEN);
            }
        });

        return $connection;
    }
}
