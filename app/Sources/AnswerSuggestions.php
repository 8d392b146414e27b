<?php

declare(strict_types=1);

namespace App\Sources;

use App\Evidence\CurrentAnswer;
use App\Models\Exchange;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\Flatten\Proposal\RecordsProposal;
use DeepSpring\Onward\Detect\Detector;
use DeepSpring\Onward\Detect\FirstAnswer;
use DeepSpring\Onward\Detect\PagingProposal;
use DeepSpring\Onward\Detect\SignsOfMore;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What the answer at hand suggests for the settings of an endpoint.
 */
final readonly class AnswerSuggestions
{
    /**
     * @param  string|null  $failedAt  the stratum at which the last try failed
     * @param  (\Closure(array<string, mixed>): bool)|null  $isRefuted  whether a way to the next page was tried and did not work
     */
    public function __construct(private EndpointDefinition $definition, private CurrentAnswer $answer, private ?Exchange $first, private ?string $failedAt, private bool $hasRecords, private ?\Closure $isRefuted = null)
    {
    }

    /**
     * Ways to get the rest, as the first answer suggests them; none while the one that is set works.
     *
     * @return list<PagingProposal>
     */
    public function paging(): array
    {
        $style = $this->definition->endpoint['onward']['style'] ?? 'none';
        $answer = $this->firstAnswer();
        if ($answer === null || $style !== 'none' && $this->failedAt !== 'onward') {
            return [];
        }

        // What was just found not to work is not proposed again, nor what was before.
        return array_values(array_filter((new Detector)->propose($answer), fn (PagingProposal $one): bool => ! $this->isRefuted($one) && ! $this->isSet($one)));
    }

    /**
     * Ways that the answer suggests, that were tried and that did not work, other than the one that is set.
     *
     * @return list<PagingProposal>
     */
    public function refuted(): array
    {
        $answer = ($this->definition->endpoint['onward']['style'] ?? 'none') !== 'none' && $this->failedAt !== 'onward' ? null : $this->firstAnswer();

        return $answer === null ? [] : array_values(array_filter((new Detector)->propose($answer), fn (PagingProposal $one): bool => $this->isRefuted($one) && ! $this->isSet($one)));
    }

    /**
     * Whether it is the way that is set, whatever else is set beside it.
     */
    private function isSet(PagingProposal $one): bool
    {
        $set = $this->definition->endpoint['onward'] ?? [];

        return $one->onward['style'] === ($set['style'] ?? 'none') && ($one->onward['send_as'] ?? $one->onward['link'] ?? '') === ($set['send_as'] ?? $set['link'] ?? '');
    }

    private function isRefuted(PagingProposal $one): bool
    {
        return $this->isRefuted !== null && ($this->isRefuted)($one->onward);
    }

    /**
     * What speaks against the first answer's holding all of the list.
     *
     * @return list<string> parts of a sentence
     */
    public function signsOfMore(): array
    {
        $answer = $this->firstAnswer();

        return $answer === null || $answer->records === [] ? [] : SignsOfMore::of($answer, count($answer->records));
    }

    /**
     * The first answer of a list as it came, with what was asked; null where there is none to go by.
     */
    private function firstAnswer(): ?FirstAnswer
    {
        if (! $this->answer->isThere || $this->answer->isDigest || $this->definition->does() !== EndpointRole::List) {
            return null;
        }
        if ($this->first !== null && ! $this->answer->isSample && ! in_array($this->first->status, [...$this->definition->answer()->ok, 206], true)) {
            return null;
        }
        $headers = [];
        foreach ($this->answer->isSample || $this->first === null ? [] : Exchange::lines($this->first->headers) as [$name, $value]) {
            $headers[strtolower($name)] = $value;
        }
        $target = $this->answer->isSample || $this->first === null ? '' : explode(' ', (string) strtok($this->first->request, "\n"))[1] ?? '';
        $inputs = array_filter($this->definition->endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] === 'query');

        return new FirstAnswer($this->definition->ask()->method, "http://h$target", $this->first->status ?? 200, $headers, $this->answer->document, $this->definition->endpoint['answer']['records'] ?? null, array_column($inputs, 'name'));
    }

    /**
     * Where the records may be, as long as nothing is found where they are said to be.
     *
     * @return list<RecordsProposal>
     */
    public function records(): array
    {
        $isSet = isset($this->definition->endpoint['answer']['records']) || isset($this->definition->endpoint['answer']['rows']);
        if (! $this->answer->isThere || $this->definition->does() !== EndpointRole::List || $isSet && $this->hasRecords || $this->failedAt === 'ask' && ! $this->answer->isSample) {
            return [];
        }

        return array_slice((new RecordsFinder)->find($this->answer->document), 0, 3);
    }

    /**
     * A setting of onward in one line: what is sent, what is looked at.
     *
     * @param  array<string, mixed>  $onward
     */
    public static function inShort(array $onward): string
    {
        $parts = [];
        foreach (array_diff_key($onward, ['style' => 1]) as $name => $value) {
            $parts[] = "$name: ".(is_scalar($value) ? (is_bool($value) ? var_export($value, true) : $value) : json_encode($value));
        }

        return implode(', ', $parts);
    }
}
