<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\Expansion;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use DeepSpring\Feed\ApplySql;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FilterSql;
use DeepSpring\Feed\RowSource;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\ExpandOption;
use DeepSpring\OData\Url\InvalidOption;
use DeepSpring\Value\NearestName;

/**
 * System query options of a request (OData 4.01 protocol §11.2.5 and §11.2.6; [URI conventions 2.0] §4). What is known
 * and not done here is 501, with its name; 4.01 lets the dollar sign be left out.
 */
final readonly class ODataOptions
{
    private const DONE = ['filter', 'select', 'expand', 'apply', 'orderby', 'top', 'skip', 'count', 'search', 'skiptoken', 'deltatoken', 'format'];

    private const DONE_BEFORE = ['filter', 'select', 'expand', 'orderby', 'top', 'skip', 'inlinecount', 'skiptoken', 'format'];

    /** Inside the parentheses of what is expanded. */
    private const NESTED = ['filter', 'select', 'expand', 'orderby', 'top', 'skip', 'count', 'search'];

    private const NOT_DONE = ['compute', 'levels', 'index', 'schemaversion', 'id'];

    private const MOST_SKIPPED = 10_000_000;

    public function __construct(private FeedLinks $links, private ODataVersion $version, private \DateTimeImmutable $now)
    {
    }

    /**
     * @param  array<string, mixed>  $asked  parameters of the address
     *
     * @throws FeedProblem
     */
    public function read(FeedEntity $entity, array $asked): FeedQuestion
    {
        [$options, $aliases] = $this->sorted($asked);
        try {
            $expand = ($options['expand'] ?? '') === '' ? [] : ExpandOption::read($options['expand'], $this->version);
        } catch (InvalidOption $invalid) {
            throw FeedProblem::wrong('$expand', $invalid->getMessage());
        }
        if (! $this->version->isV4() && isset($options['inlinecount'])) {
            $options['count'] = ['allpages' => 'true', 'none' => 'false'][$options['inlinecount']] ?? throw FeedProblem::wrong('$inlinecount', '$inlinecount is allpages or none.');
        }

        return $this->question($entity, $options, $expand, $aliases);
    }

    /**
     * @param  array<string, string>  $options  without their dollar sign
     * @param  list<ExpandOption>  $expand
     * @param  array<string, string>  $aliases
     *
     * @throws FeedProblem
     */
    private function question(FeedEntity $entity, array $options, array $expand, array $aliases): FeedQuestion
    {
        $source = $this->applied($entity, $options['apply'] ?? '', $aliases);
        if ($source !== null && $expand !== []) {
            throw new FeedProblem(501, '$expand behind $apply cannot be answered here.', [], '$expand');
        }
        $columns = $source->columns ?? $entity->columns;
        $conditions = [];
        try {
            if (($options['filter'] ?? '') !== '') {
                $conditions[] = (new FilterSql($columns, $this->version, $this->now, $aliases))->condition($options['filter']);
            }
        } catch (CannotFilter $cannot) {
            throw FeedProblem::ofFilter('$filter', $cannot);
        }
        if (($options['search'] ?? '') !== '') {
            $conditions[] = FeedQuestion::search(self::phrase($options['search']), $source->columns ?? $entity->shape->columns);
        }
        if (! in_array($options['count'] ?? 'false', ['true', 'false'], true)) {
            throw FeedProblem::wrong('$count', '$count is true or false.');
        }
        $skip = FeedQuestion::number('$skip', $options['skip'] ?? '', self::MOST_SKIPPED) ?? 0;
        if ($skip > self::MOST_SKIPPED) {
            throw FeedProblem::wrong('$skip', 'At most '.self::MOST_SKIPPED.' rows are passed over.');
        }
        [$select, $behind] = $this->selected($entity, $options['select'] ?? '', $expand);
        $order = $options['orderby'] ?? '';

        return new FeedQuestion(
            FeedQuestion::fields($select, $columns, '$select'), BoundSql::all(...$conditions), FeedQuestion::order($order === '' && $source === null ? $entity->feed->sort : $order, $columns, $source->key ?? $entity->shape->key, '$orderby'),
            FeedQuestion::number('$top', $options['top'] ?? '', PHP_INT_MAX), $options['skiptoken'] ?? '', ($options['count'] ?? '') === 'true', (string) json_encode([$options['filter'] ?? '', $options['search'] ?? '', $order, $options['apply'] ?? '', $aliases]), $skip, $source, $this->expanded($entity, $expand, $behind, $aliases),
        );
    }

    /**
     * @param  array<string, string>  $aliases
     *
     * @throws FeedProblem
     */
    private function applied(FeedEntity $entity, string $text, array $aliases): ?RowSource
    {
        try {
            return $text === '' ? null : (new ApplySql($this->now, $aliases))->of($text, new RowSource(new BoundSql("`{$entity->feed->view()}`", []), $entity->columns, $entity->shape->key));
        } catch (CannotFilter $cannot) {
            throw FeedProblem::ofFilter('$apply', $cannot);
        }
    }

    /**
     * What is selected of the entity itself, and what behind its ways (version 2 names both in one list).
     *
     * @param  list<ExpandOption>  $expand
     * @return array{string, array<string, list<string>>}
     *
     * @throws FeedProblem
     */
    private function selected(FeedEntity $entity, string $text, array $expand): array
    {
        $own = $behind = [];
        foreach (trim($text) === '' ? [] : explode(',', $text) as $one) {
            [$name, $rest] = explode('/', trim($one), 2) + [1 => null];
            if ($rest !== null && ! in_array($name, array_map(static fn (ExpandOption $option): string => $option->name, $expand), true)) {
                throw FeedProblem::wrong('$select', "\"$one\" goes behind $name, which \$expand does not name.");
            }
            if ($rest !== null && $this->version->isV4()) {
                throw FeedProblem::wrong('$select', "What is selected of $name stands in its parentheses: \$expand=$name(\$select=$rest).");
            }
            if ($rest !== null) {
                $behind[$name][] = $rest;
            } elseif ($this->links->find($entity, $name) === null) {
                $own[] = $name;
            }
        }

        return [implode(',', $own), $behind];
    }

    /**
     * @param  list<ExpandOption>  $expand
     * @param  array<string, list<string>>  $behind
     * @param  array<string, string>  $aliases
     * @return list<Expansion>
     *
     * @throws FeedProblem
     */
    private function expanded(FeedEntity $entity, array $expand, array $behind, array $aliases): array
    {
        $expansions = [];
        foreach ($expand as $one) {
            $link = $this->links->find($entity, $one->name);
            if ($link === null) {
                $near = NearestName::to($one->name, array_map(static fn (FeedLink $link): string => $link->name, $this->links->of($entity)));
                throw FeedProblem::wrong('$expand', "There is no way \"$one->name\" from $entity->set".($near === null ? '.' : "; \"$near\" was probably meant."));
            }
            foreach (array_keys($one->options) as $name) {
                if (! in_array($name, self::NESTED, true)) {
                    throw in_array($name, [...self::DONE, ...self::NOT_DONE], true) ? new FeedProblem(501, "\$$name inside \$expand cannot be answered here.", [], '$expand') : FeedProblem::wrong('$expand', "There is no option \$$name.");
                }
            }
            $options = $one->options + (isset($behind[$one->name]) ? ['select' => implode(',', $behind[$one->name])] : []);
            $expansions[] = new Expansion($link, $this->question($link->to, $options, $one->expand, $aliases));
        }

        return $expansions;
    }

    /**
     * @param  array<string, mixed>  $asked
     * @return array{array<string, string>, array<string, string>} options without their dollar sign, and values of parameters
     *
     * @throws FeedProblem
     */
    private function sorted(array $asked): array
    {
        $done = $this->version->isV4() ? self::DONE : self::DONE_BEFORE;
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
            // Before version 4, what has no dollar sign is the reader's own.
            $isOption = $this->version->isV4() || str_starts_with($name, '$');
            if ($isOption && in_array($bare, self::NOT_DONE, true)) {
                throw new FeedProblem(501, "\$$bare cannot be answered here.", [], "\$$bare");
            }
            if ($isOption && in_array($bare, $done, true)) {
                $options[$bare] = isset($options[$bare]) ? throw FeedProblem::wrong("\$$bare", "\$$bare is said once.") : $value;
            } elseif (str_starts_with($name, '$')) {
                $near = NearestName::to($bare, $done);
                throw FeedProblem::wrong($name, "There is no option $name".($this->version->isV4() ? '' : ' in version 2').($near === null ? '.' : "; \$$near was probably meant."));
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
