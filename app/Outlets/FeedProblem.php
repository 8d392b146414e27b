<?php

declare(strict_types=1);

namespace App\Outlets;

use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\CannotGoOn;

/**
 * Why a request for a feed is not answered, as its status says it (RFC 9110 §15) and in a sentence.
 */
final class FeedProblem extends \RuntimeException
{
    /**
     * @param  array<string, string>  $headers  that belong to it
     * @param  string|null  $parameter  of the address, where one is at fault
     */
    public function __construct(public readonly int $status, string $sentence, public readonly array $headers = [], public readonly ?string $parameter = null, ?\Throwable $previous = null)
    {
        parent::__construct($sentence, 0, $previous);
    }

    public static function wrong(string $parameter, string $sentence): self
    {
        return new self(400, $sentence, [], $parameter);
    }

    public static function ofFilter(string $parameter, CannotFilter $cannot): self
    {
        return new self($cannot->isPossible ? 400 : 501, ($cannot->at === null || str_contains(strtolower($cannot->getMessage()), 'character ') ? '' : 'Character '.($cannot->at + 1).': ').$cannot->getMessage(), [], $parameter, $cannot);
    }

    public static function ofPlace(string $parameter, CannotGoOn $cannot): self
    {
        return new self($cannot->isGone ? 410 : 400, $cannot->getMessage(), [], $parameter, $cannot);
    }

    /**
     * The same whether there is no such feed or it is not for whoever asks, so that nobody learns which there are.
     */
    public static function isNotThere(string $name): self
    {
        return new self(404, "There is no feed \"$name\" that this key can read.");
    }
}
