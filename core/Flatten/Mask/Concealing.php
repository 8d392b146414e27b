<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Flatten\Plan;

/**
 * Takes the values of masked columns out of an answer itself, so that evidence, samples and kept
 * pages hold no more than the tables do.
 */
final readonly class Concealing
{
    private MaskedPlaces $places;

    private ValueMask $mask;

    public function __construct(private Plan $plan, private AnswerDefinition $answer, Masks $masks)
    {
        $this->places = new MaskedPlaces($plan);
        $this->mask = new ValueMask($masks);
    }

    /**
     * @param  bool  $isError  whether the service says in it what is wrong
     * @return string|null the body with masks in it, everything else as it came; null when that cannot be done, and the body must not be kept
     */
    public function body(string $body, string $contentType, bool $isError = false): ?string
    {
        if (! $this->plan->isMasked() || trim($body) === '') {
            return $body;
        }
        if (! MaskedPlaces::areClear($this->plan)) {
            return null;
        }
        try {
            $read = $this->answer->read($body, $contentType);
            if ($read->json === null || $read->format !== 'json') {
                return null;
            }
            $digits = new Digits($read->json);

            return $digits->json($this->document($read->document, $digits, Digits::mayBeUnusual($read->json), $isError));
        } catch (UnreadableAnswer|TooCostly) {
            return null;
        }
    }

    /**
     * @param  mixed  $document  as it was decoded
     * @param  Digits|null  $digits  of the same document
     * @return mixed the document with masks in it; that of the digits, where there are some
     *
     * @throws UnreadableAnswer
     * @throws TooCostly
     */
    public function document(mixed $document, ?Digits $digits = null, bool $isUnusual = false, bool $isError = false): mixed
    {
        $places = [...$this->places->around($document), ...($isError ? $this->places->named($document) : [])];
        foreach ($this->answer->recordPlaces($document) as $record) {
            foreach ($this->places->inRecord($record->value) as [$steps, $column]) {
                $places[] = [$record->inDocument($steps), $column];
            }
        }
        $texts = $this->mask->all($places, $document, $isUnusual, static fn (): ?array => $digits === null ? null : [$digits->document(), $digits]);
        $masked = $digits === null ? Steps::copy($document) : $digits->document();
        foreach ($texts as [$steps, $text]) {
            Steps::set($masked, $steps, $text);
        }

        return $masked;
    }
}
