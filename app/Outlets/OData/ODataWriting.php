<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;

/**
 * How answers of a service are written: versions of the protocol differ in it.
 */
interface ODataWriting
{
    public function type(): string;

    /**
     * @param  list<FeedEntity>  $entities
     */
    public function service(string $root, array $entities): string;

    /**
     * @param  list<FeedEntity>  $entities
     * @param  bool  $isJson  whether JSON is wanted; not every version has it
     * @return array{string, string} the document, and its media type
     */
    public function metadata(array $entities, FeedLinks $links, bool $isJson): array;

    /**
     * How rows of a question are written, each as an object. What does not depend on the row is made once.
     *
     * @param  array<string, int>  $places  of columns in the rows, by name
     * @return \Closure(list<string|null>, list<string>): string rows, and members that come behind their values, → an object
     *
     * @throws FeedProblem where a value cannot be written
     */
    public function rows(string $root, FeedEntity $entity, FeedQuestion $question, array $places, FeedLinks $links): \Closure;

    /**
     * A member of an object: the rows of another feed that belong to it.
     *
     * @param  list<string>  $objects
     * @param  int|null  $total  null where nobody asked
     */
    public function related(FeedLink $link, array $objects, ?int $total): string;

    /**
     * @param  list<string>  $objects
     * @param  string|null  $delta  address that tells what has changed since; no version before 4 has it
     */
    public function collection(string $root, FeedEntity $entity, FeedQuestion $question, array $objects, ?int $total, ?string $next, ?string $delta = null): string;

    public function entity(string $root, FeedEntity $entity, FeedQuestion $question, string $object): string;

    /**
     * One value, as JSON.
     */
    public function property(string $context, string $name, string $value): string;

    public function problem(FeedProblem $problem): string;
}
