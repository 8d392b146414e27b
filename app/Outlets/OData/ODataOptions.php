<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FilterSql;
use DeepSpring\OData\ODataVersion;
use DeepSpring\Value\NearestName;

/**
 * System query options of a request (OData 4.01 protocol §11.2.5 and §11.2.6). What is known and not done here is 501,
 * with its name; 4.01 lets the dollar sign be left out.
 */
final class ODataOptions
{
    private const DONE = ['filter', 'select', 'orderby', 'top', 'skip', 'count', 'search', 'skiptoken', 'format'];

    private const NOT_DONE = ['expand', 'apply', 'compute', 'levels', 'index', 'schemaversion', 'deltatoken', 'id'];

    private const MOST_SKIPPED = 10_000_000;

    /**
     * @param  array<string, mixed>  $asked  parameters of the address
     *
     * @throws FeedProblem
     */
    public static function read(FeedEntity $entity, array $asked, \DateTimeImmutable $now): FeedQuestion
    {
        [$options, $aliases] = self::sorted($asked);
        $conditions = [];
        if (($options['filter'] ?? '') !== '') {
            try {
                $conditions[] = (new FilterSql($entity->columns, ODataVersion::V4, $now, $aliases))->condition($options['filter']);
            } catch (CannotFilter $cannot) {
                throw FeedProblem::ofFilter('$filter', $cannot);
            }
        }
        if (($options['search'] ?? '') !== '') {
            $conditions[] = FeedQuestion::search(self::phrase($options['search']), $entity->shape->columns);
        }
        if (! in_array($options['count'] ?? 'false', ['true', 'false'], true)) {
            throw FeedProblem::wrong('$count', '$count is true or false.');
        }
        $skip = FeedQuestion::number('$skip', $options['skip'] ?? '', self::MOST_SKIPPED) ?? 0;
        if ($skip > self::MOST_SKIPPED) {
            throw FeedProblem::wrong('$skip', 'At most '.self::MOST_SKIPPED.' rows are passed over.');
        }

        return new FeedQuestion(
            FeedQuestion::fields($options['select'] ?? '', $entity->columns, '$select'), BoundSql::all(...$conditions), FeedQuestion::order($entity->feed, $entity->shape, $options['orderby'] ?? '', '$orderby'),
            FeedQuestion::number('$top', $options['top'] ?? '', PHP_INT_MAX), $options['skiptoken'] ?? '', ($options['count'] ?? '') === 'true', (string) json_encode([$options['filter'] ?? '', $options['search'] ?? '', $options['orderby'] ?? '', $aliases]), $skip,
        );
    }

    /**
     * @param  array<string, mixed>  $asked
     * @return array{array<string, string>, array<string, string>} options without their dollar sign, and values of parameters
     *
     * @throws FeedProblem
     */
    private static function sorted(array $asked): array
    {
        $options = $aliases = [];
        foreach ($asked as $name => $value) {
            $name = (string) $name;
            if (! is_string($value)) {
                throw FeedProblem::wrong($name, "\"$name\" is said once.");
            }
            if (str_starts_with($name, '@')) {
                $aliases[$name] = $value;

                continue;
            }
            $bare = strtolower(ltrim($name, '$'));
            if (in_array($bare, self::NOT_DONE, true)) {
                throw new FeedProblem(501, "\$$bare cannot be answered here.", [], "\$$bare");
            }
            if (in_array($bare, self::DONE, true)) {
                $options[$bare] = isset($options[$bare]) ? throw FeedProblem::wrong("\$$bare", "\$$bare is said once.") : $value;
            } elseif (str_starts_with($name, '$')) {
                $near = NearestName::to($bare, self::DONE);
                throw FeedProblem::wrong($name, "There is no option $name".($near === null ? '.' : "; \$$near was probably meant."));
            }
            // Anything else is the reader's own (§11.2.11), and says nothing here.
        }

        return [$options, $aliases];
    }

    /**
     * Words that stand beside each other, or a phrase in quotes; AND, OR and NOT between them are not done.
     *
     * @throws FeedProblem
     */
    private static function phrase(string $text): string
    {
        if (preg_match('/^\s*"((?:[^"\\\\]|\\\\.)*)"\s*$/Ds', $text, $quoted) === 1) {
            return stripcslashes($quoted[1]);
        }
        if (preg_match('/\b(?:AND|OR|NOT)\b|["()]/', $text, $found) === 1) {
            throw new FeedProblem(501, "$found[0] in \$search cannot be answered here: one word, or a phrase in quotes.", [], '$search');
        }

        return trim($text);
    }
}
