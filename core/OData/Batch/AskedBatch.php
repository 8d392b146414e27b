<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * A form of batches as a service takes and answers them.
 */
interface AskedBatch
{
    /** Requests of one batch. */
    public const MOST = 100;

    /**
     * @return list<BatchPart> in their order
     *
     * @throws UnreadableBatch
     */
    public function requests(string $contentType, string $body): array;

    public function contentType(): string;

    /**
     * @param  list<BatchReply>  $replies
     */
    public function answer(array $replies): string;
}
