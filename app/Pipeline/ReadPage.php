<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Sent;
use DeepSpring\Answer\Format\BadRecord;
use DeepSpring\Answer\RecordPage;

/**
 * An answer and the records in it.
 */
final readonly class ReadPage
{
    /**
     * @param  list<mixed>  $records
     * @param  Position|null  $position  where to go on after it; null after the last page
     * @param  RecordPage|null  $page  the same records with what is known beside them
     * @param  list<BadRecord>  $bad  what of the answer could not be read
     * @param  bool  $isPart  whether more of the same answer follows
     * @param  bool  $heldSecret  whether a secret was taken out of it
     * @param  string|null  $changes  where the service says what changes from now on
     * @param  int  $set  which of the sets of values it was asked for with
     * @param  array<string, string|null>|null  $inputs  those values, and columns of the row it was asked for, where each set is known only as it is asked for
     */
    public function __construct(public int $number, public mixed $document, public array $records, public Sent $sent, public ?Position $position = null, public ?RecordPage $page = null, public array $bad = [], public bool $isPart = false, public bool $heldSecret = false, public ?string $changes = null, public int $set = 0, public ?array $inputs = null)
    {
    }

    /**
     * One of its records by itself.
     */
    public function only(int $index): self
    {
        return new self($this->number, $this->document, [$this->records[$index]], $this->sent, $this->position, $this->page?->only($index), [], $this->isPart, $this->heldSecret, $this->changes, $this->set, $this->inputs);
    }

    /**
     * The same page as one of several readings.
     */
    public function within(int $set, int $number, ?Position $position): self
    {
        return new self($number, $this->document, $this->records, $this->sent, $position, $this->page, $this->bad, $this->isPart, $this->heldSecret, $this->changes, $set, $this->inputs);
    }
}
