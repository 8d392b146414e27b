<?php

declare(strict_types=1);

namespace App\Runs;

use App\Pipeline\ReadingFailed;
use App\Reservoir\KeepFailed;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\FlattenFailure;

/**
 * Why a run failed → what is said of it. Whatever failed, the tables are as they were.
 */
final class RunFailure
{
    private const AS_BEFORE = 'The tables are as they were.';

    public static function diagnosis(\Throwable $failed): Diagnosis
    {
        return match (true) {
            $failed instanceof ReadingFailed => $failed->diagnosis,
            $failed instanceof KeepFailed => new Diagnosis('keep', $failed->getMessage(), self::AS_BEFORE, 'keep'),
            $failed instanceof TooCostly => new Diagnosis('path', ucfirst($failed->getMessage()).'.', self::AS_BEFORE, 'answer'),
            $failed instanceof FlattenFailure => new Diagnosis('flatten', $failed->getMessage(), self::AS_BEFORE, 'flatten'),
            $failed instanceof \PDOException => new Diagnosis('database', 'The database did not take the rows: '.mb_strimwidth($failed->getPrevious()?->getMessage() ?? $failed->getMessage(), 0, 300, '…'), self::AS_BEFORE, 'keep'),
            default => new Diagnosis('unexpected', 'The run ended by a fault of this application.', self::AS_BEFORE.' The log has the details.', 'keep'),
        };
    }

    /**
     * Whether it is a fault of ours, or of the database, which belongs into the log of the application.
     */
    public static function isOurs(\Throwable $failed): bool
    {
        return ! $failed instanceof ReadingFailed && ! $failed instanceof KeepFailed && ! $failed instanceof FlattenFailure && ! $failed instanceof TooCostly;
    }

    /**
     * Whether going on from where it was would only go wrong again.
     */
    public static function wouldRepeat(\Throwable $failed): bool
    {
        return ! $failed instanceof ReadingFailed || in_array($failed->diagnosis->code, ['onward', 'key-gone', 'records-gone', 'inputs', 'check'], true);
    }
}
