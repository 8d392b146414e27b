<?php

declare(strict_types=1);

namespace App\Operations;

use Monolog\Formatter\JsonFormatter;
use Monolog\LogRecord;

/**
 * A line of the log: one JSON object, with the id of the request that caused it. Where a fault was
 * thrown is said by file and line; what functions were called with is not.
 */
final class LogLine extends JsonFormatter
{
    /** Characters of a message: what a service or the database said may be long. */
    private const MOST = 2000;

    public function __construct()
    {
        parent::__construct(self::BATCH_MODE_NEWLINES, true, true, true);
    }

    public function format(LogRecord $record): string
    {
        $context = $record->context;
        $line = [
            'at' => $record->datetime->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.v\Z'),
            'level' => strtolower($record->level->getName()),
            'request' => $context['request'] ?? null,
            'message' => mb_strimwidth(mb_scrub(self::withoutValues($record->message)), 0, self::MOST, '…'),
        ];
        $exception = $context['exception'] ?? null;
        unset($context['request'], $context['exception']);
        if ($exception instanceof \Throwable) {
            $line['fault'] = $this->fault($exception);
        }
        if ($context !== []) {
            $line['more'] = $this->normalize($context);
        }

        return json_encode(array_filter($line, static fn (mixed $value): bool => $value !== null), JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PARTIAL_OUTPUT_ON_ERROR)."\n";
    }

    /**
     * @return array<string, mixed>
     */
    private function fault(\Throwable $fault): array
    {
        $root = base_path().'/';
        $trace = array_map(static fn (array $frame): string => str_replace($root, '', $frame['file'] ?? '').':'.($frame['line'] ?? 0), array_slice($fault->getTrace(), 0, 25));

        return array_filter([
            'class' => $fault::class, 'message' => mb_strimwidth(mb_scrub(self::withoutValues($fault->getMessage())), 0, self::MOST, '…'),
            'at' => str_replace($root, '', $fault->getFile()).':'.$fault->getLine(), 'trace' => $trace,
            'before' => $fault->getPrevious() === null ? null : $this->fault($fault->getPrevious()),
        ]);
    }

    /**
     * A failed statement is told with the values in it, which may be anything that was stored.
     */
    private static function withoutValues(string $message): string
    {
        return (string) preg_replace('/ \(Connection: \w+.*$/s', '', $message);
    }
}
