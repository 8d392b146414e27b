<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Exchange;
use App\Transport\Sent;
use DeepSpring\Access\Mask;

/**
 * A request and its answer → a row of evidence. Secrets are taken out on the way, from the answer
 * too: some services send back what they were sent.
 */
final class EvidenceWriter
{
    /** Bytes of a body that are kept; more would not fit the column when it does not deflate. */
    private const MOST = 32 * 1024 * 1024;

    public function write(Sent $sent, Mask $mask, int $number, ?int $records, ?int $tryId = null, ?int $runId = null): Exchange
    {
        $answer = '';
        foreach ($sent->headers as $name => $value) {
            $answer .= "$name: $value\n";
        }

        return Exchange::query()->create([
            'try_id' => $tryId, 'run_id' => $runId, 'number' => $number,
            'request' => self::head($sent->request, $mask),
            'status' => $sent->status, 'headers' => mb_scrub($mask->apply($answer), 'UTF-8'), 'bytes' => strlen($sent->body), 'records' => $records,
            'timing' => $sent->timing->toArray(), 'error' => $sent->failing === null ? null : mb_scrub($sent->detail, 'UTF-8'),
            'body' => strlen($sent->body) > self::MOST ? null : gzdeflate($mask->apply($sent->body), 1),
        ]);
    }

    /**
     * Start line and header lines as they leave, host first, secrets masked.
     */
    public static function head(\Psr\Http\Message\RequestInterface $request, Mask $mask): string
    {
        $head = $request->getMethod().' '.$request->getRequestTarget()."\nhost: ".$request->getUri()->getAuthority()."\n";
        foreach ($request->getHeaders() as $name => $values) {
            if (strtolower((string) $name) !== 'host') {
                $head .= strtolower((string) $name).': '.implode(', ', $values)."\n";
            }
        }

        return mb_scrub($mask->apply($head), 'UTF-8');
    }
}
