<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Queries\Keeping\ViewParameters;
use DeepSpring\Sql\BoundStatement;
use DeepSpring\Sql\InvalidParameter;
use DeepSpring\Sql\Parameter;
use Illuminate\Support\Carbon;

/**
 * Parameters of the query that a feed reads, which are parameters of the feed.
 */
final readonly class FeedParameters
{
    /**
     * @param  array<string, Parameter>  $all  by the name that readers write
     */
    private function __construct(private Feed $feed, public array $all)
    {
    }

    public static function of(Feed $feed, KeptTable $table): self
    {
        $all = [];
        foreach ($table->is_view ? ViewParameters::of($feed->environment_id, $feed->reads) : [] as $parameter) {
            // One that is called like something else that can be asked has a name of its own.
            $taken = in_array(strtolower($parameter->name), [...FeedQuestion::PARAMETERS, 'select', 'expand', 'apply', 'orderby', 'skip', 'count', 'skiptoken', 'format'], true);
            $all[$taken ? "with_$parameter->name" : $parameter->name] = $parameter;
        }

        return new self($feed, $all);
    }

    /**
     * @param  array<string, mixed>  $asked  parameters of the address
     * @return array<string, string> what the connection asks with
     *
     * @throws FeedProblem
     */
    public function read(array $asked): array
    {
        $values = [];
        foreach ($this->all as $name => $parameter) {
            $value = $asked[$name] ?? '';
            if (! is_string($value)) {
                throw FeedProblem::wrong($name, "\"$name\" is said once.");
            }
            if ($value === '') {
                continue;
            }
            if ($parameter->choices !== [] && ! in_array($value, $parameter->choices, true)) {
                throw FeedProblem::wrong($name, "\"$value\" is none of the values that $name can have: ".implode(', ', array_slice($parameter->choices, 0, 20)).'.');
            }
            try {
                $values[ViewParameters::name($this->feed->reads, $parameter->name)] = mb_check_encoding($value, 'UTF-8') ? BoundStatement::plain($parameter, $value, Carbon::now()->toDateTimeImmutable(), new \DateTimeZone($this->feed->user->zone)) : throw FeedProblem::wrong($name, "$name is no text in UTF-8.");
            } catch (InvalidParameter $invalid) {
                throw new FeedProblem(400, $invalid->getMessage(), [], $name, $invalid);
            }
        }

        return $values;
    }
}
