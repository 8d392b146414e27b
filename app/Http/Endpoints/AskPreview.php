<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnections;
use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;

/**
 * The request as it would leave now, without sending anything; or why there is none.
 */
final class AskPreview
{
    /** Without secrets; empty when there is none. */
    public readonly string $text;

    public readonly ?Diagnosis $cannot;

    /** @var array<string, InvalidInput> what is wrong with values, by input */
    public readonly array $inputs;

    /**
     * @param  list<Fault>  $faults  of what was just sent and not saved
     */
    public function __construct(SourceConnections $connections, public readonly Endpoint $row, public readonly SourceFile $file, public readonly EndpointDefinition $definition, public readonly Environment $environment, public readonly array $faults = [])
    {
        $ask = $definition->ask();
        $values = $ask->tryValues();
        $this->inputs = $ask->faults($values);
        try {
            $reading = $connections->open($row->source, $file->source(), $environment);
            $this->text = trim($reading->preview($definition, $values, $this->firstPage()));
            $this->cannot = null;
        } catch (ReadingFailed $failed) {
            $this->text = '';
            $this->cannot = $failed->diagnosis;
        }
    }

    /**
     * @return list<string>
     */
    public function faultsAt(string $part): array
    {
        $sentences = [];
        foreach ($this->faults as $fault) {
            if (preg_match('/^endpoints\[\d+\]\.'.preg_quote($part, '/').'(?:[.\[]|$)(.*)/s', $fault->path, $found) === 1) {
                $sentences[] = $found[1] === '' ? $fault->message : self::place($found[1]).': '.$fault->message;
            } elseif ($part === 'ask' && preg_match('/^endpoints\[\d+\](\.(name|slug|does|about))?$/', $fault->path) === 1) {
                $sentences[] = $fault->message;
            }
        }

        return $sentences;
    }

    private static function place(string $rest): string
    {
        return (string) preg_replace_callback('/(inputs|columns|branches)?\[?(\d+)\]\.?/', static fn (array $found): string => rtrim($found[1], 's').' '.((int) $found[2] + 1).' ', $rest);
    }

    private function firstPage(): PageRequest
    {
        try {
            return $this->definition->onward()->walk(now()->toDateTimeImmutable())->first();
        } catch (InvalidJsonPath) {
            return new PageRequest;
        }
    }
}
