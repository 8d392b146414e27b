<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Environment;
use App\Models\Source;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use DeepSpring\Access\Mask;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\Answer\JsonBody;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnose;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Onward\End;
use DeepSpring\Onward\OnwardFailure;
use DeepSpring\Onward\Page;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceDefinition;
use Psr\Http\Message\RequestInterface;

/**
 * The first half of the pipeline: definition + inputs + access → request → transport → answer →
 * records, page by page. A try and a refresh both read through here. It throws `ReadingFailed`
 * with a diagnosis, and whatever was sent is reported before.
 */
final class Reading
{
    private readonly Diagnose $diagnose;

    public readonly Mask $mask;

    private readonly \DeepSpring\Access\Secrets $secrets;

    /** @var list<Scheme> */
    private readonly array $access;

    /**
     * @throws ReadingFailed when there is no address or no usable secret
     */
    public function __construct(
        private readonly Transport $transport,
        Vault $vault,
        Source $source,
        private readonly SourceDefinition $definition,
        private readonly Environment $environment,
    ) {
        $this->diagnose = new Diagnose;
        $this->secrets = $vault->of($source, $environment);
        $this->access = $definition->access();
        try {
            $sensitive = [];
            foreach ($this->access as $scheme) {
                array_push($sensitive, ...$scheme->sensitive($this->secrets));
            }
            $this->mask = new Mask($sensitive);
        } catch (MissingSecret|UnusableSecret|\App\Secrets\UnreadableSecret $missing) {
            throw ReadingFailed::because(new Diagnosis('secret', $missing->getMessage(), 'Nothing was sent.', 'access'));
        }
    }

    /**
     * @param  array<string, list<string>>  $inputs
     *
     * @throws ReadingFailed
     */
    public function request(EndpointDefinition $endpoint, array $inputs, PageRequest $page): RequestInterface
    {
        $base = $this->definition->base($this->environment->slug) ?? throw ReadingFailed::because(new Diagnosis('no-base', "{$this->definition->name} has no address in {$this->environment->name}.", 'Set one under Address, or work in another environment: it has '.implode(', ', $this->definition->environments()).'.', 'address'));
        try {
            return $this->definition->requests($base)->build($endpoint->ask(), $inputs, $this->secrets, $page);
        } catch (InvalidInput $invalid) {
            throw ReadingFailed::because(new Diagnosis('input', $invalid->getMessage(), 'Nothing was sent.', 'ask'));
        } catch (UnusableSecret|MissingSecret $unusable) {
            throw ReadingFailed::because(new Diagnosis('secret', $unusable->getMessage(), 'Nothing was sent.', 'access'));
        } catch (\InvalidArgumentException $invalid) {
            throw ReadingFailed::because(new Diagnosis('request', 'No request can be made from this: '.$this->mask->apply($invalid->getMessage()), 'Nothing was sent.', 'ask'));
        }
    }

    /**
     * @param  array<string, list<string>>  $inputs
     * @param  \Closure(Sent, int, int|null): void  $record  told of every answer: page from 1, records on it
     * @param  (\Closure(int): bool)|null  $pause
     * @return \Generator<int, ReadPage, void, End>
     *
     * @throws ReadingFailed
     */
    public function pages(EndpointDefinition $endpoint, array $inputs, Limits $limits, \Closure $record, ?\Closure $pause = null): \Generator
    {
        $answer = $endpoint->answer();
        $pager = $endpoint->onward()->pager();
        $step = $pager->first();
        $total = 0;
        for ($number = 1; ; $number++) {
            $request = $this->request($endpoint, $inputs, $step);
            $sent = $this->transport->send($request, $limits, $this->mask, $pause);
            $this->refuse($sent, $answer->ok, $limits, $number, $record);
            try {
                $document = JsonBody::decode($sent->body);
            } catch (UnreadableAnswer $unreadable) {
                $record($sent, $number, null);

                throw ReadingFailed::because($this->diagnose->unreadable($unreadable, $sent->contentType()), $number);
            }
            $records = $answer->records($document);
            $total += count($records);
            $record($sent, $number, count($records));
            if ($number === 1 && $records === [] && $answer->records !== null && $answer->records->isSingular()) {
                throw ReadingFailed::because(new Diagnosis('no-records', "The answer has nothing at {$answer->records}.", 'Choose where the records are from the answer at the right.', 'answer'), $number);
            }
            $page = new Page($number, $document, count($records), $total, (string) $request->getUri(), self::fingerprint($records), $sent->headers);
            $read = new ReadPage($number, $document, $records, $sent);
            // Only the page itself is held while it is worked on, so that two are never in memory.
            unset($document, $records, $sent);
            yield $read;
            unset($read);
            try {
                $step = $pager->next($page);
                unset($page);
            } catch (OnwardFailure $failure) {
                throw ReadingFailed::because(new Diagnosis('onward', $this->mask->apply($failure->getMessage()), $failure->hint ?? 'Compare the settings with the documentation.', 'onward'), $number);
            }
            if ($step instanceof End) {
                return new End($step->reason, $this->mask->apply($step->sentence));
            }
        }
    }

    /**
     * Sends one GET to the base address.
     */
    public function knock(Limits $limits): Sent
    {
        return $this->transport->send($this->request(new EndpointDefinition(['slug' => 'base', 'name' => 'base', 'ask' => ['path' => '']]), [], new PageRequest), $limits, $this->mask);
    }

    /**
     * @param  list<int>  $ok
     */
    public function explain(Sent $sent, array $ok, int $timeout): ?Diagnosis
    {
        $diagnosis = $this->diagnose->exchange(new Situation(
            $sent->request->getMethod(), $this->mask->apply((string) $sent->request->getUri()),
            array_values(array_filter(array_map(static fn (Scheme $scheme): ?string => $scheme->header(), $this->access))),
            $this->access !== [], $sent->failing, $sent->detail, $sent->status, array_map($this->mask->apply(...), $sent->headers), $this->mask->apply($sent->body), $ok, $timeout,
        ));

        return $diagnosis;
    }

    /**
     * @param  list<int>  $ok
     * @param  \Closure(Sent, int, int|null): void  $record
     *
     * @throws ReadingFailed
     */
    private function refuse(Sent $sent, array $ok, Limits $limits, int $number, \Closure $record): void
    {
        if ($sent->failing === null && in_array($sent->status, $ok, true)) {
            return;
        }
        $record($sent, $number, null);
        $diagnosis = $this->explain($sent, $ok, $limits->timeout) ?? new Diagnosis('unexplained', "The service answered {$sent->status}.", 'See the raw answer.', 'answer');

        throw ReadingFailed::because($diagnosis, $number);
    }

    /**
     * @param  list<mixed>  $records
     */
    private static function fingerprint(array $records): string
    {
        return $records === [] ? '' : hash('xxh128', count($records).serialize($records[0]).serialize($records[count($records) - 1]).serialize($records[intdiv(count($records), 2)]));
    }
}
