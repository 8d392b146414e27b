<?php

declare(strict_types=1);

namespace DeepSpring\Suggest;

use DeepSpring\Onward\Detect\PagingProposal;
use DeepSpring\Value\Phrase;

/**
 * Ways to the next page, tried one after the other: each is judged by what came, and the first that proved
 * itself is suggested.
 */
final class PagingTrial
{
    /** Ways that are tried at most: each is a few requests to somebody's service. */
    public const MOST = 3;

    /** How sure a sign has to be to be tried. */
    private const SURE_ENOUGH = 50;

    /** How sure it has to be to be suggested untried. */
    private const SURE = 80;

    /** @var list<PagingProposal> */
    private array $wait;

    /** @var list<string> what became of those that were tried, in parts of a sentence */
    private array $failed = [];

    private ?Suggestion $suggestion = null;

    private ?PagingProposal $untried = null;

    /**
     * @param  list<PagingProposal>  $proposals  the likeliest first
     * @param  list<string>  $against  what in the answer speaks against its holding all of the list
     */
    public function __construct(array $proposals, private readonly array $against = [])
    {
        $this->wait = array_slice(array_values(array_filter($proposals, static fn (PagingProposal $one): bool => $one->weight >= self::SURE_ENOUGH)), 0, self::MOST);
    }

    /**
     * The one to be tried next; null when one was found, or none is left.
     */
    public function next(): ?PagingProposal
    {
        return $this->suggestion === null ? $this->wait[0] ?? null : null;
    }

    /**
     * What came when it was tried with two pages.
     *
     * @param  list<int>  $records  of each page that came
     * @param  string|null  $fault  what went wrong
     */
    public function came(array $records, ?string $fault): void
    {
        $tried = array_shift($this->wait) ?? throw new \LogicException('Nothing was to be tried.');
        if ($fault === null && count($records) > 1 && $records[1] > 0) {
            $this->suggestion = new Suggestion('onward', $tried->onward, lcfirst($tried->reason)." The second page came with {$this->counted($records[1])} and is not the first again.", self::none());
        } elseif ($fault === null && count($records) === 1) {
            $this->suggestion = new Suggestion('onward', $tried->onward, lcfirst($tried->reason).' The list ended with its first page, so nothing has proved it yet.', self::none());
        } else {
            $this->failed[] = $tried->title().': '.lcfirst(rtrim($fault ?? 'the second page was empty', '.'));
        }
    }

    /**
     * No request may be sent to prove it: the surest is suggested as it is.
     */
    public function withoutTrying(): void
    {
        $surest = $this->wait[0] ?? null;
        if ($surest !== null && $surest->weight >= self::SURE) {
            $this->suggestion = new Suggestion('onward', $surest->onward, lcfirst($surest->reason).' Not proved: the settings of the source allow no second request.', self::none());
            $this->untried = $surest;
        }
        $this->wait = [];
    }

    /**
     * The one that is suggested though it was not tried.
     */
    public function untried(): ?PagingProposal
    {
        return $this->untried;
    }

    public function suggestion(): ?Suggestion
    {
        return $this->suggestion;
    }

    /**
     * What a person has to say, where there seems to be more and nothing got it.
     */
    public function question(): ?string
    {
        if ($this->suggestion !== null) {
            return null;
        }
        $more = $this->against === [] ? '' : ' '.ucfirst(implode('; ', $this->against)).'.';

        return $this->failed === [] ? ($more === '' ? null : "How the rest is asked for could not be told.$more Set it under Onward.") : 'What was tried to get the next page did not work: '.implode('; ', $this->failed).".$more Set it under Onward, as the documentation of the service says.";
    }

    private function counted(int $records): string
    {
        return Phrase::count($records, 'record');
    }

    /**
     * @return list<array{label: string, value: mixed}>
     */
    private static function none(): array
    {
        return [['label' => 'only the first page', 'value' => ['style' => 'none']]];
    }
}
