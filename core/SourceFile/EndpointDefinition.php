<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Flatten\Plan;
use DeepSpring\Onward\OnwardDefinition;

final class EndpointDefinition
{
    public readonly string $slug;

    public readonly string $name;

    /** Read once, since a lookup asks for them with every row. */
    private ?AskDefinition $ask = null;

    private ?AnswerDefinition $answer = null;

    private ?OnwardDefinition $onward = null;

    /**
     * @param  array<string, mixed>  $endpoint  valid by the schema
     * @param  (\Closure(array<string, mixed>): bool)|null  $isRefuted  whether a way to the next page is known not to work
     */
    public function __construct(public readonly array $endpoint, public readonly ?\Closure $isRefuted = null)
    {
        $this->slug = $endpoint['slug'];
        $this->name = $endpoint['name'];
    }

    public function does(): EndpointRole
    {
        return isset($this->endpoint['does']) ? EndpointRole::from($this->endpoint['does']) : EndpointRole::guess($this->endpoint['ask']['method'] ?? 'GET', $this->endpoint['ask']['path'] ?? '');
    }

    public function ask(): AskDefinition
    {
        return $this->ask ??= AskDefinition::of($this->endpoint['ask']);
    }

    public function answer(): AnswerDefinition
    {
        return $this->answer ??= AnswerDefinition::of($this->endpoint['answer'] ?? [], $this->does()->succeedsWith());
    }

    public function onward(): OnwardDefinition
    {
        return $this->onward ??= OnwardDefinition::of($this->endpoint['onward'] ?? []);
    }

    /**
     * What its tables are read with. Values to try with are never among them.
     *
     * @throws InvalidInput
     */
    public function keptWith(): InputSets
    {
        return InputSets::of($this->ask(), $this->endpoint['keep']['inputs'] ?? []);
    }

    /**
     * @param  \DateTimeImmutable|null  $now  what expressions call now
     */
    public function plan(?\DateTimeImmutable $now = null): ?Plan
    {
        return isset($this->endpoint['flatten']) ? Plan::of($this->endpoint['flatten'], $now) : null;
    }
}
