<?php

declare(strict_types=1);

namespace App\Changes;

use App\Pipeline\SourceConnection;
use App\Transport\Sent;
use DeepSpring\Ask\Input;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Ask\Place;
use DeepSpring\OData\Batch\BatchedRequest;
use DeepSpring\OData\Batch\ChangeBatch;
use DeepSpring\OData\Batch\UnreadableBatch;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\SourceFile\EndpointDefinition;
use Psr\Http\Message\RequestInterface;

/**
 * Several requests as one `$batch` of an OData service: those that look, and those that change, each in a change set.
 */
final class BatchBundling implements Bundling
{
    /** Statuses by which a service says that it takes no batch, or not this one. */
    private const NONE = [404, 405, 406, 415, 501];

    /** Headers that belong to each request, beside those that its endpoint names. */
    private const OWN = ['accept', 'content-type', 'if-match'];

    private bool $isRefused = false;

    public function __construct(private readonly ChangeTable $table, private readonly SourceConnection $connection, private readonly string $base)
    {
    }

    public function most(?string $group = null): int
    {
        return $this->isRefused ? 1 : $this->table->plan->batch() ?? 1;
    }

    public function group(Flight $flight): ?string
    {
        $isElsewhere = $flight->asked->bound->endpoint->ask()->bases !== [];

        return $this->isRefused || $isElsewhere ? null : ($flight->step === FlightStep::Write ? 'changes' : 'looks');
    }

    public function request(array $flights): BundledRequest
    {
        $requests = array_map($this->one(...), $flights);
        $boundary = 'batch_'.bin2hex(random_bytes(12));
        $batch = new ChangeBatch($boundary, $this->table->plan->isAtomic());
        $version = Derived::versionOf($this->table->file->document['source']);
        $endpoint = new EndpointDefinition(['slug' => 'batch', 'name' => 'Several changes', 'does' => 'call', 'ask' => ['method' => 'POST', 'path' => '/$batch', 'headers' => ['accept' => 'multipart/mixed'] + $version->headers(), 'body' => ['as' => 'text', 'of' => strtr($batch->encode($requests), ['{' => '{{', '}' => '}}'])]]]);

        return new BundledRequest($this->connection->request($endpoint, [], new PageRequest(headers: ['content-type' => $batch->contentType()])), array_map(static fn (BatchedRequest $one): string => $one->message(), $requests));
    }

    public function answers(array $flights, Sent $sent): array
    {
        if (in_array($sent->status, self::NONE, true)) {
            // Nothing of it was done, and each goes alone from now on.
            $this->isRefused = true;

            return array_fill(0, count($flights), null);
        }
        if ($sent->status === null || $sent->status >= 300) {
            return array_fill(0, count($flights), $sent);
        }
        // What was asked, in the same order; only ids and methods count.
        $requests = array_map(fn (Flight $flight): BatchedRequest => new BatchedRequest($flight->id(), $this->endpoint($flight)->ask()->method, ''), $flights);
        try {
            $answers = (new ChangeBatch('', $this->table->plan->isAtomic()))->decode($sent->contentType(), $sent->body, $requests);
        } catch (UnreadableBatch) {
            $answers = [];
        }

        $changes = count(array_filter($requests, static fn (BatchedRequest $one): bool => ! $one->reads()));
        $isAtomic = $this->table->plan->isAtomic();

        return array_map(static function (Flight $flight) use ($answers, $sent, $changes, $isAtomic): Sent {
            $answer = $answers[$flight->id()] ?? null;
            $flight->inOneSet = $isAtomic && $flight->step === FlightStep::Write ? $changes : 1;

            return $answer === null ? PartSent::silent($sent) : PartSent::answered($sent, $answer->status, $answer->headers, $answer->body);
        }, $flights);
    }

    private function one(Flight $flight): BatchedRequest
    {
        $request = $flight->request($this->connection, $this->table);
        $ask = $this->endpoint($flight)->ask();
        $named = [...self::OWN, ...array_map(strtolower(...), array_map(strval(...), array_keys($ask->headers))), ...array_map(static fn (Input $input): string => strtolower($input->wireName()), array_filter($ask->inputs, static fn (Input $input): bool => $input->in === Place::Header))];
        $headers = [];
        foreach ($request->getHeaders() as $name => $values) {
            in_array(strtolower((string) $name), $named, true) && $headers[(string) $name] = implode(', ', $values);
        }

        return new BatchedRequest($flight->id(), $request->getMethod(), $this->path($request), $headers, (string) $request->getBody());
    }

    private function endpoint(Flight $flight): EndpointDefinition
    {
        return $flight->step === FlightStep::Write ? $flight->asked->bound->endpoint : $this->table->plan->get()->endpoint ?? $flight->asked->bound->endpoint;
    }

    /**
     * Relative to the root of the service, or the whole address where it stands elsewhere.
     */
    private function path(RequestInterface $request): string
    {
        $uri = (string) $request->getUri();
        $root = rtrim($this->base, '/').'/';

        return str_starts_with($uri, $root) ? substr($uri, strlen($root)) : $uri;
    }
}
