<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Models\ChangeLink;
use App\Transport\Sent;
use DeepSpring\Answer\Format\BadRecord;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Onward\Page;

/**
 * What one answer holds.
 */
final readonly class UnderstoodAnswer
{
    /**
     * @param  Sent  $sent  without secrets
     * @param  mixed  $document  without secrets; of one in parts, what is around the records
     * @param  Page  $seen  what the way to the next page is found by
     * @param  RecordPage|null  $page  its records; null when they were handed out in parts
     * @param  list<BadRecord>  $bad  what of it could not be read
     * @param  bool  $heldSecret  whether a secret was taken out of it
     * @param  bool  $isEmpty  whether it has no body and needs none
     */
    public function __construct(
        public Sent $sent,
        public mixed $document,
        public Page $seen,
        public ?RecordPage $page = null,
        public array $bad = [],
        public bool $heldSecret = false,
        public bool $isEmpty = false,
        public bool $isInParts = false,
    ) {
    }

    /**
     * @param  Position|null  $after  where to go on; null after the last page
     */
    public function page(int $number, ?Position $after): ReadPage
    {
        return new ReadPage($number, $this->document, $this->page->values ?? [], $this->sent, $after, $this->page, $this->bad, heldSecret: $this->heldSecret, changes: ChangeLink::in($this->seen->document));
    }
}
