<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use DeepSpring\Answer\Digits;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Flatten\Plan;

/**
 * Records with masks in the place of what is masked, before anything is read from them: a value is hidden
 * wherever it shows, in a column of its own or inside a column of JSON.
 */
final readonly class ConcealedRecords
{
    private MaskedPlaces $places;

    private ValueMask $mask;

    public function __construct(Plan $plan, Masks $masks)
    {
        $this->places = new MaskedPlaces($plan);
        $this->mask = new ValueMask($masks);
    }

    public function page(RecordPage $page): RecordPage
    {
        $masked = [];
        $values = $page->values;
        foreach ($values as $index => $record) {
            $texts = $this->mask->all($this->places->inRecord($record), $record, $page->hasUnusualNumbers, static fn (): ?array => $page->exact($index));
            if ($texts !== []) {
                $masked[$index] = $texts;
                $values[$index] = self::with($record, $texts);
            }
        }
        $around = $this->mask->all($this->places->around($page->envelope), $page->envelope, $page->hasUnusualNumbers, static fn (): ?array => null);

        return $page->changed($values, self::with($page->envelope, $around), static fn (int $index, mixed $record, Digits $digits): mixed => self::with($record, $masked[$index] ?? []));
    }

    /**
     * @param  list<array{list<string|int>, string}>  $texts
     */
    private static function with(mixed $document, array $texts): mixed
    {
        foreach ($texts as [$steps, $text]) {
            $document = Steps::changed($document, $steps, $text);
        }

        return $document;
    }
}
