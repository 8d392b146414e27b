<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

use DeepSpring\OData\Filter\FilterParser;
use DeepSpring\OData\Filter\InvalidFilter;
use DeepSpring\OData\Filter\Node\FilterAmong;
use DeepSpring\OData\Filter\Node\FilterArithmetic;
use DeepSpring\OData\Filter\Node\FilterCall;
use DeepSpring\OData\Filter\Node\FilterComparison;
use DeepSpring\OData\Filter\Node\FilterConstant;
use DeepSpring\OData\Filter\Node\FilterJoined;
use DeepSpring\OData\Filter\Node\FilterLambda;
use DeepSpring\OData\Filter\Node\FilterMember;
use DeepSpring\OData\Filter\Node\FilterNegated;
use DeepSpring\OData\Filter\Node\FilterNode;
use DeepSpring\OData\ODataVersion;
use DeepSpring\Value\NearestName;

/**
 * A `$filter` → a condition of MariaDB that holds for the same rows. null is equal to null and to nothing else, and
 * neither larger nor smaller (OData 4.01 URL conventions §5.1.1.1), which a database sees otherwise: there a comparison
 * with nothing is neither true nor false. Where that could be seen from outside (below a "not", or where a comparison
 * is compared itself), comparisons are written so that they are always true or false; elsewhere they are written so
 * that an index serves.
 *
 * In one piece, since it has one method for each kind of node, and they call each other.
 */
final class FilterSql
{
    private const LONGEST = 16_384;

    private const MOST_PARTS = 500;

    /** In MariaDB, what is set for whoever reads. */
    public const READER_FUNCTION = 'spring_my';

    /** Names of what can be set. */
    public const OF_READER = '/^[a-z][a-z0-9_]{0,59}$/D';

    private const SIGNS = ['eq' => '=', 'ne' => '<>', 'gt' => '>', 'ge' => '>=', 'lt' => '<', 'le' => '<='];

    /** @var array<string, FeedColumn> by name */
    private readonly array $columns;

    private readonly CallTerm $calls;

    private int $parts = 0;

    /**
     * @param  list<FeedColumn>  $columns
     * @param  \DateTimeImmutable  $now  what now() gives
     * @param  array<string, string>  $aliases  values of parameters, by name with "@"
     * @param  bool  $knowsReader  whether it can say `my('house')`: what is set for whoever reads
     */
    public function __construct(array $columns, private readonly ODataVersion $version, \DateTimeImmutable $now, private readonly array $aliases = [], private readonly bool $knowsReader = false)
    {
        $this->columns = array_column($columns, null, 'name');
        $this->calls = new CallTerm($version, $now);
    }

    /**
     * @throws CannotFilter
     */
    public function condition(string $filter): BoundSql
    {
        if (strlen($filter) > self::LONGEST) {
            throw CannotFilter::because('A filter has at most '.self::LONGEST.' bytes; this has '.strlen($filter).'.');
        }
        $this->parts = 0;
        $term = $this->truth($this->parsed($filter), false);

        return new BoundSql($term->sql, $term->values);
    }

    /**
     * @throws CannotFilter
     */
    private function parsed(string $text): FilterNode
    {
        try {
            return FilterParser::parse($text);
        } catch (InvalidFilter $invalid) {
            throw CannotFilter::because($invalid->getMessage(), $invalid->at);
        }
    }

    /**
     * What has to be true or false.
     *
     * @param  bool  $exact  whether a comparison with nothing has to be false, and not unknown
     *
     * @throws CannotFilter
     */
    private function truth(FilterNode $node, bool $exact): Term
    {
        $term = $this->term($node, $exact);
        if ($term->kind !== TermKind::Boolean && $term->kind !== TermKind::Nothing) {
            throw CannotFilter::because("A condition is true or false; this is {$term->kind->value}.", $node->at());
        }

        return $term;
    }

    /**
     * @throws CannotFilter
     */
    private function term(FilterNode $node, bool $exact): Term
    {
        if (++$this->parts > self::MOST_PARTS) {
            throw CannotFilter::because('A filter has at most '.self::MOST_PARTS.' parts.', $node->at());
        }

        return match (true) {
            $node instanceof FilterJoined => Term::truth($node->operator === 'and' ? '({0} AND {1})' : '({0} OR {1})', $this->truth($node->left, $exact), $this->truth($node->right, $exact)),
            $node instanceof FilterNegated => Term::truth('(NOT {0})', $this->truth($node->of, true)),
            $node instanceof FilterComparison => $this->comparison($node, $exact),
            $node instanceof FilterAmong => $this->among($node),
            $node instanceof FilterArithmetic => $this->arithmetic($node),
            $node instanceof FilterCall && $node->name === 'my' && $this->knowsReader => $this->ofReader($node),
            $node instanceof FilterCall => $this->calls->of($node, array_map(fn (FilterNode $one): Term => $this->term($one, true), $node->arguments)),
            $node instanceof FilterConstant => LiteralTerm::of($node),
            $node instanceof FilterMember => $this->member($node),
            $node instanceof FilterLambda => throw CannotFilter::notHere($node->all ? 'all' : 'any', $node->at(), 'the rows of a feed hold no collections'),
            default => throw CannotFilter::notHere('A path with keys or functions in it', $node->at()),
        };
    }

    /**
     * @throws CannotFilter
     */
    private function ofReader(FilterCall $call): Term
    {
        $name = count($call->arguments) === 1 && $call->arguments[0] instanceof FilterConstant && $call->arguments[0]->type === 'Edm.String' ? LiteralTerm::quoted($call->arguments[0]->text) : '';
        if (preg_match(self::OF_READER, $name) !== 1) {
            throw CannotFilter::because("my takes the name of what is set for a reader, in quotes: my('house').", $call->at());
        }

        return new Term('`'.self::READER_FUNCTION.'`(?)', [$name], TermKind::Text);
    }

    /**
     * Names that a condition asks of whoever reads.
     *
     * @return list<string>
     */
    public static function namesOfReader(string $filter): array
    {
        preg_match_all("/'(?:[^']|'')*+'(*SKIP)(*FAIL)|\\bmy\\s*\\(\\s*'([^']*)'/", $filter, $found);

        return array_values(array_unique($found[1]));
    }

    /**
     * @throws CannotFilter
     */
    private function member(FilterMember $node): Term
    {
        $steps = $node->steps;
        if ($steps[0] === '$it' && count($steps) > 1) {
            array_shift($steps);
        }
        if (str_starts_with($steps[0], '@')) {
            $value = $this->aliases[$steps[0]] ?? throw CannotFilter::because("The parameter $steps[0] has no value in the address.", $node->at());
            $constant = $this->parsed($value);

            return $constant instanceof FilterConstant ? LiteralTerm::of($constant) : throw CannotFilter::because("The value of the parameter $steps[0] is no literal.", $node->at());
        }
        $column = count($steps) === 1 ? $this->columns[$steps[0]] ?? null : null;
        if ($column === null) {
            $name = implode('/', $steps);
            $near = NearestName::to($name, array_map(strval(...), array_keys($this->columns)));
            throw CannotFilter::because("There is no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."), $node->at());
        }
        $kind = $column->kind();

        return new Term($kind === TermKind::Boolean ? "({$column->sql()} = 1)" : $column->sql(), [], $kind, ! $column->isKey, $column->type === 'integer');
    }

    /**
     * @throws CannotFilter
     */
    private function comparison(FilterComparison $node, bool $exact): Term
    {
        $sign = self::SIGNS[$node->operator] ?? throw CannotFilter::notHere("The operator $node->operator", $node->at());
        [$left, $right] = $this->alike($this->term($node->left, true), $this->term($node->right, true));
        if ($left->kind === TermKind::Nothing || $right->kind === TermKind::Nothing) {
            return $this->withNothing($node->operator, $left, $right);
        }
        $this->comparable($node, $left, $right);
        if ($node->operator === 'eq' || $node->operator === 'ne') {
            $isPlain = ! $left->mayBeNull && ! $right->mayBeNull || $node->operator === 'eq' && ! $exact && (! $left->mayBeNull || ! $right->mayBeNull);

            return Term::truth($isPlain ? "({0} $sign {1})" : ($node->operator === 'eq' ? '({0} <=> {1})' : '(NOT ({0} <=> {1}))'), $left, $right)->never();
        }
        $compared = Term::truth("({0} $sign {1})", $left, $right);
        if (($node->operator === 'ge' || $node->operator === 'le') && $left->mayBeNull && $right->mayBeNull) {
            return Term::truth('(COALESCE({0}, FALSE) OR ({1} IS NULL AND {2} IS NULL))', $compared, $left, $right)->never();
        }

        return $exact && $compared->mayBeNull ? Term::truth('COALESCE({0}, FALSE)', $compared)->never() : $compared;
    }

    /**
     * Of null, only whether something is it can be said.
     */
    private function withNothing(string $operator, Term $left, Term $right): Term
    {
        $other = $left->kind === TermKind::Nothing ? $right : $left;

        return (match (true) {
            $operator === 'ne' => $other->kind === TermKind::Nothing ? new Term('FALSE', [], TermKind::Boolean) : Term::truth('({0} IS NOT NULL)', $other),
            $operator === 'gt' || $operator === 'lt' => new Term('FALSE', [], TermKind::Boolean),
            default => $other->kind === TermKind::Nothing ? new Term('TRUE', [], TermKind::Boolean) : Term::truth('({0} IS NULL)', $other),
        })->never();
    }

    /**
     * @throws CannotFilter
     */
    private function comparable(FilterComparison $node, Term $left, Term $right): void
    {
        if ($left->kind === TermKind::Json || $right->kind === TermKind::Json) {
            throw CannotFilter::notHere('A comparison with JSON', $node->at(), 'only whether it is null can be asked');
        }
        if ($left->kind !== $right->kind && ! ($left->kind->isNumber() && $right->kind->isNumber())) {
            $hint = match (true) {
                $left->kind === TermKind::Moment && $right->kind === TermKind::Date, $left->kind === TermKind::Date && $right->kind === TermKind::Moment => '; write date(…) of the one with time',
                $right->literal !== null && $right->kind === TermKind::Text && $left->kind !== TermKind::Text => '; write the value without quotes',
                $right->literal !== null && $left->kind === TermKind::Text => '; write the value in quotes',
                default => '',
            };
            throw CannotFilter::because(ucfirst($left->kind->value)." cannot be compared with {$right->kind->value}$hint.", $node->at());
        }
        if ($left->kind === TermKind::Boolean && ! in_array($node->operator, ['eq', 'ne'], true)) {
            throw CannotFilter::because("True and false are compared with eq and ne, not with $node->operator.", $node->at());
        }
    }

    /**
     * In version 2 a day is a moment, at midnight.
     *
     * @return array{Term, Term}
     */
    private function alike(Term $left, Term $right): array
    {
        if ($this->version->isV4()) {
            return [$left, $right];
        }
        $moment = static fn (Term $term): Term => $term->kind === TermKind::Date ? new Term($term->sql, $term->values, TermKind::Moment, $term->mayBeNull, false, $term->literal) : $term;

        return [$moment($left), $moment($right)];
    }

    /**
     * @throws CannotFilter
     */
    private function among(FilterAmong $node): Term
    {
        if (! $this->version->isV4()) {
            throw CannotFilter::because('Version 2 has no "in"; write each value with eq, and "or" between them.', $node->at());
        }
        $left = $this->term($node->left, true);
        $items = [];
        $hasNothing = false;
        foreach ($node->items as $item) {
            $term = $this->term($item, true);
            if ($term->literal === null) {
                throw CannotFilter::notHere('in with anything but literals', $item->at());
            }
            if ($term->kind === TermKind::Nothing) {
                $hasNothing = true;

                continue;
            }
            $this->comparable(new FilterComparison($item->at(), 'eq', $node->left, $item), $left, $term);
            $items[] = $term;
        }
        if ($left->kind === TermKind::Nothing || $items === []) {
            return $hasNothing ? $this->withNothing('eq', $left, new Term('NULL', [], TermKind::Nothing)) : new Term('FALSE', [], TermKind::Boolean, false);
        }
        $values = array_merge(...array_map(static fn (Term $term): array => $term->values, $items));
        $list = new Term(implode(', ', array_map(static fn (Term $term): string => $term->sql, $items)), $values, $left->kind, false);

        return Term::truth($hasNothing ? '({0} IS NULL OR {0} IN ({1}))' : ($left->mayBeNull ? '({0} IS NOT NULL AND {0} IN ({1}))' : '({0} IN ({1}))'), $left, $list)->never();
    }

    /**
     * @throws CannotFilter
     */
    private function arithmetic(FilterArithmetic $node): Term
    {
        $left = $this->term($node->left, true);
        $right = $node->right === null ? $left : $this->term($node->right, true);
        foreach ([$left, $right] as $term) {
            if (! $term->kind->isNumber() && $term->kind !== TermKind::Nothing) {
                throw $term->kind === TermKind::Moment || $term->kind === TermKind::Date ? CannotFilter::notHere("$node->operator with dates", $node->at()) : CannotFilter::because("$node->operator takes numbers, not {$term->kind->value}.", $node->at());
            }
        }
        $kind = $left->kind === TermKind::Float || $right->kind === TermKind::Float ? TermKind::Float : TermKind::Number;
        $isWhole = $left->isWhole && $right->isWhole;
        if (in_array($node->operator, ['div', 'divby', 'mod'], true) && $right->literal !== null && (float) $right->literal === 0.0) {
            throw CannotFilter::because("$node->operator by 0.", $node->at());
        }
        if (in_array($node->operator, ['div', 'divby'], true) && $kind === TermKind::Number && ($node->operator === 'divby' || ! $isWhole)) {
            throw CannotFilter::notHere("$node->operator of decimals", $node->at(), 'it would be cut after some digits');
        }
        $term = match ($node->operator) {
            'add' => Term::of($kind, '({0} + {1})', $left, $right),
            'sub' => Term::of($kind, '({0} - {1})', $left, $right),
            'mul' => Term::of($kind, '({0} * {1})', $left, $right),
            'mod' => Term::of($kind, 'MOD({0}, {1})', $left, $right),
            'div', 'divby' => Term::of($kind, $kind === TermKind::Float ? '(CAST({0} AS DOUBLE) / {1})' : '({0} DIV {1})', $left, $right),
            'minus' => Term::of($kind, '(- {0})', $left),
            default => throw CannotFilter::notHere("The operator $node->operator", $node->at()),
        };
        // Divided by nothing, or by a column that is 0, it is null.
        $term = in_array($node->operator, ['div', 'divby', 'mod'], true) ? new Term($term->sql, $term->values, $kind) : $term;

        return $isWhole && $kind === TermKind::Number ? $term->whole() : $term;
    }
}
