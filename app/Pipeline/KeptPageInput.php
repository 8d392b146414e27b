<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\KeepFailed;
use App\Reservoir\KeptPages;
use App\Transport\Sent;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Pages from the answers that were kept, read by what an endpoint says now, without a request.
 */
final readonly class KeptPageInput
{
    public function __construct(private KeptPages $kept, private EndpointDefinition $endpoint)
    {
    }

    /**
     * Nobody goes on in the middle of them: they can be read again at any time.
     *
     * @param  (\Closure(int, string): bool)|null  $wanted  number and body of a page → whether it is read at all
     * @return \Generator<int, ReadPage>
     *
     * @throws KeepFailed when one cannot be read
     */
    public function read(?\Closure $wanted = null): \Generator
    {
        $answer = $this->endpoint->answer();
        foreach ($this->kept->pages() as $number => [$type, $body]) {
            if ($wanted !== null && ! $wanted($number, $body)) {
                continue;
            }
            try {
                $read = $answer->read($body, $type);
            } catch (UnreadableAnswer $unreadable) {
                throw KeepFailed::because("Page $number of those that are kept cannot be read by what is published now: {$unreadable->getMessage()}");
            }
            $page = $answer->pageOf($read);
            yield new ReadPage($number, $read->document, $page->values, Sent::kept($type, $body), null, $page, $read->bad, isPart: true);
            unset($read, $page, $body);
        }
    }
}
