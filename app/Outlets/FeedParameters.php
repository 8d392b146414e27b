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
    /** Values of one that takes several. */
    private const MOST = 1000;

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
     * @param  array<string, mixed>  $asked  parameters of the address; several values with commas between them, or as a list
     * @return array<string, string> what the connection asks with
     *
     * @throws FeedProblem
     */
    public function read(array $asked): array
    {
        $values = [];
        foreach ($this->all as $name => $parameter) {
            $given = $asked[$name] ?? '';
            if ($given === '' || $given === []) {
                continue;
            }
            $all = is_string($given) && $parameter->many ? array_map(trim(...), explode(',', $given)) : array_values(is_array($given) ? $given : [$given]);
            if (count($all) > ($parameter->many ? self::MOST : 1) || is_array($given) && ! $parameter->many) {
                throw FeedProblem::wrong($name, $parameter->many ? "\"$name\" takes at most ".self::MOST.' values.' : "\"$name\" is said once.");
            }
            $plain = array_map(fn (mixed $one): string => $this->value($parameter, $name, is_string($one) ? $one : throw FeedProblem::wrong($name, "\"$name\" is a list of values.")), $all);
            $values[ViewParameters::name($this->feed->reads, $parameter->name)] = $parameter->many ? (string) json_encode($plain, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : $plain[0];
        }

        return $values;
    }

    /**
     * @throws FeedProblem
     */
    private function value(Parameter $parameter, string $name, string $value): string
    {
        if ($parameter->choices !== [] && ! in_array($value, $parameter->choices, true)) {
            throw FeedProblem::wrong($name, "\"$value\" is none of the values that $name can have: ".implode(', ', array_slice($parameter->choices, 0, 20)).'.');
        }
        try {
            return mb_check_encoding($value, 'UTF-8') ? BoundStatement::plain($parameter, $value, Carbon::now()->toDateTimeImmutable(), new \DateTimeZone($this->feed->user->zone)) : throw FeedProblem::wrong($name, "$name is no text in UTF-8.");
        } catch (InvalidParameter $invalid) {
            throw new FeedProblem(400, $invalid->getMessage(), [], $name, $invalid);
        }
    }
}
