<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Evidence\Tree\DocumentNodes;
use App\Evidence\Tree\StoredNodes;
use App\Evidence\Tree\TreeNodes;
use App\Evidence\Tree\UnreadContainer;
use App\Models\Exchange;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Answer\Format\Read;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;

/**
 * The answer that a sheet works on: that of a try, or, as long as there is none, a sample that was
 * given by hand. A large one is worked on by its digest, and shown from its parts.
 */
final readonly class CurrentAnswer
{
    private function __construct(
        /** Null when there is none, or none that is JSON. */
        public mixed $document,
        public bool $isThere,
        /** Whether long arrays were cut. */
        public bool $isDigest,
        public bool $isSample,
        /** Whether an answer came whose body was not kept. */
        public bool $isGone,
        private ?Exchange $exchange,
        /** How it was read; null for a sample. */
        public ?Read $read = null,
    ) {
    }

    public static function of(?Exchange $exchange, mixed $sample, ?AnswerDefinition $answer = null): self
    {
        if ($exchange !== null && $exchange->error === null && $exchange->status !== null) {
            $isLarge = $exchange->bytes > AnswerParts::LARGE;
            $digest = $isLarge ? $exchange->digested() : null;
            $text = $digest ?? $exchange->text();
            if ($text === null) {
                return new self(null, false, false, false, true, $exchange);
            }
            try {
                $read = $digest !== null ? new Read(JsonDecoder::decode($text), 'json') : ($answer === null ? (new Formats)->read($text, (string) $exchange->header('content-type')) : $answer->read($text, (string) $exchange->header('content-type')));

                return new self($read->document, true, $digest !== null, false, false, $exchange, $read);
            } catch (UnreadableAnswer) {
                return new self(null, false, false, false, false, $exchange);
            }
        }

        return $sample === null ? new self(null, false, false, false, false, $exchange) : new self($sample, true, false, true, false, null);
    }

    public function nodes(): TreeNodes
    {
        return $this->isDigest && $this->exchange !== null ? new StoredNodes($this->exchange) : new DocumentNodes($this->document);
    }

    /**
     * What the tree begins with.
     */
    public function root(): mixed
    {
        if (! $this->isDigest) {
            return $this->document;
        }
        $children = $this->nodes()->children([], 0, 1);

        return $children === null ? $this->document : new UnreadContainer($children->isArray, $children->total);
    }
}
