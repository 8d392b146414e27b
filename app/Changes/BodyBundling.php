<?php

declare(strict_types=1);

namespace App\Changes;

use App\Pipeline\SourceConnection;
use App\Transport\Sent;
use DeepSpring\Ask\Body\JsonBody;
use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Change\BoundEndpoint;
use DeepSpring\Change\PartAnswers;
use DeepSpring\Change\RecordAct;

/**
 * Several records in one body, where the service has an endpoint for that.
 */
final readonly class BodyBundling implements Bundling
{
    public function __construct(private ChangeTable $table, private SourceConnection $connection)
    {
    }

    public function most(?string $group = null): int
    {
        $kinds = $group === null ? RecordAct::cases() : [RecordAct::from($group)];

        return max(1, ...array_map(fn (RecordAct $kind): int => $this->table->plan->together($kind)->most ?? 1, $kinds));
    }

    public function group(Flight $flight): ?string
    {
        $bound = $flight->step === FlightStep::Write ? $this->table->plan->together($flight->change->kind) : null;

        return $bound === null || $this->values($bound, $flight) === null ? null : $flight->change->kind->value;
    }

    public function request(array $flights): BundledRequest
    {
        $bound = $this->bound($flights);
        $ask = $bound->endpoint->ask();
        $body = $ask->body;
        $inside = $body instanceof JsonBody ? array_flip($body->inputsOfEach()) : [];
        $records = $parts = [];
        $shared = [];
        foreach ($flights as $flight) {
            $values = $this->values($bound, $flight) ?? [];
            $records[] = array_intersect_key($values, $inside);
            $shared += array_diff_key($values, $inside);
            $parts[] = $body instanceof JsonBody ? $body->encodeAll(InputValues::of($ask, $values), [InputValues::of($ask, $values)])->bytes : '';
        }
        // The same records never travel twice under one mark, so each request has its own.
        $mark = $bound->mark();
        $shared = ($mark === null ? [] : [$mark->name => [PendingChanges::mark()]]) + $shared;

        return new BundledRequest($this->connection->request($bound->endpoint, $shared, new PageRequest(records: $records)), $parts);
    }

    public function answers(array $flights, Sent $sent): array
    {
        $bound = $this->bound($flights);
        $isWhole = $sent->status === null || $sent->status >= 500 || in_array($sent->status, [401, 403, 407, 408, 425, 429], true);
        if ($isWhole) {
            return array_fill(0, count($flights), $sent);
        }
        $records = array_map(fn (Flight $flight): array => $this->values($bound, $flight) ?? [], $flights);
        $answers = [];
        foreach (PartAnswers::of($bound->endpoint)->split($sent->status, $sent->body, $records) as $place => $part) {
            $ok = $flights[$place]->asked->bound->endpoint->answer()->ok;
            $answers[] = match (true) {
                $part === null => PartSent::silent($sent),
                $part->isUntouched => null,
                // A success is one, whichever of them the endpoint for one record would answer with.
                $part->status < 300 && ! in_array($part->status, $ok, true) => PartSent::answered($sent, $ok[0], ['content-type' => 'application/json'], $part->body),
                default => PartSent::answered($sent, $part->status, ['content-type' => 'application/json'], $part->body),
            };
        }

        return $answers;
    }

    /**
     * @param  non-empty-list<Flight>  $flights
     */
    private function bound(array $flights): BoundEndpoint
    {
        return $this->table->plan->together($flights[0]->change->kind) ?? throw new \LogicException('They do not travel together.');
    }

    /**
     * @return array<string, list<string>>|null null where it does not fit in there
     */
    private function values(BoundEndpoint $bound, Flight $flight): ?array
    {
        $asked = $this->table->plan->asked($flight->change->wanted(), $bound);

        return $asked->faults === [] ? $asked->values : null;
    }
}
