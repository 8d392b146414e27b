<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

use DeepSpring\OData\Filter\Functions;
use DeepSpring\OData\Filter\Node\FilterCall;
use DeepSpring\OData\ODataVersion;
use DeepSpring\Value\NearestName;

/**
 * Functions of filters as the database computes them (OData 4.01 URL conventions §5.1.1.5 to §5.1.1.10; [URI
 * conventions 2.0] §4.5). Those that it would answer in another way than the protocol says are refused by name.
 */
final class CallTerm
{
    private const TEXTS = [
        'contains' => [TermKind::Boolean, '(LOCATE({1}, {0}) > 0)'],
        'substringof' => [TermKind::Boolean, '(LOCATE({0}, {1}) > 0)'],
        'startswith' => [TermKind::Boolean, '(LEFT({0}, CHAR_LENGTH({1})) = {1})'],
        'endswith' => [TermKind::Boolean, '(RIGHT({0}, CHAR_LENGTH({1})) = {1})'],
        'length' => [TermKind::Number, 'CHAR_LENGTH({0})'],
        'indexof' => [TermKind::Number, '(CAST(LOCATE({1}, {0}) AS SIGNED) - 1)'],
        'tolower' => [TermKind::Text, 'LOWER({0})'],
        'toupper' => [TermKind::Text, 'UPPER({0})'],
        'trim' => [TermKind::Text, "REGEXP_REPLACE({0}, '(*UCP)^\\\\s+|\\\\s+$', '')"],
        'concat' => [TermKind::Text, 'CONCAT({0}, {1})'],
        'replace' => [TermKind::Text, 'REPLACE({0}, {1}, {2})'],
    ];

    /** name → what it gives, its SQL, what it takes */
    private const MOMENTS = [
        'year' => ['YEAR({0})', [TermKind::Date, TermKind::Moment]],
        'month' => ['MONTH({0})', [TermKind::Date, TermKind::Moment]],
        'day' => ['DAYOFMONTH({0})', [TermKind::Date, TermKind::Moment]],
        'hour' => ['HOUR({0})', [TermKind::Moment, TermKind::Time]],
        'minute' => ['MINUTE({0})', [TermKind::Moment, TermKind::Time]],
        'second' => ['SECOND({0})', [TermKind::Moment, TermKind::Time]],
        'fractionalseconds' => ['(MICROSECOND({0}) * 0.000001)', [TermKind::Moment, TermKind::Time]],
        // All moments are kept in UTC.
        'totaloffsetminutes' => ['IF({0} IS NULL, NULL, 0)', [TermKind::Moment]],
    ];

    public function __construct(private readonly ODataVersion $version, private readonly \DateTimeImmutable $now)
    {
    }

    /**
     * @param  list<Term>  $terms  of its arguments
     *
     * @throws CannotFilter
     */
    public function of(FilterCall $call, array $terms): Term
    {
        $name = $call->name;
        $known = Functions::of($this->version);
        if (! isset($known[$name])) {
            $other = Functions::elsewhere($name, $this->version);
            $near = $other === null ? NearestName::to($name, array_map(strval(...), array_keys($known))) : null;
            throw CannotFilter::because("There is no function \"$name\"".($other === null ? ($near === null ? '.' : "; \"$near\" was probably meant.") : "; write $other."), $call->at());
        }
        [$least, $most] = $known[$name];
        if (count($terms) < $least || count($terms) > $most) {
            throw CannotFilter::because("$name takes ".($least === $most ? (string) $least : "$least to $most").' values, not '.count($terms).'.', $call->at());
        }

        return match (true) {
            isset(self::TEXTS[$name]) => $this->text($call, $terms),
            $name === 'substring' => $this->substring($call, $terms),
            isset(self::MOMENTS[$name]) => $this->part($call, $terms[0]),
            $name === 'date' => Term::of(TermKind::Date, 'DATE({0})', $this->want($call, $terms[0], [TermKind::Moment])),
            $name === 'time' => Term::of(TermKind::Time, 'TIME({0})', $this->want($call, $terms[0], [TermKind::Moment])),
            $name === 'now' => LiteralTerm::at($this->now),
            $name === 'mindatetime' => new Term('CAST(? AS DATETIME(6))', ['0001-01-01 00:00:00'], TermKind::Moment, false),
            $name === 'maxdatetime' => new Term('CAST(? AS DATETIME(6))', ['9999-12-31 23:59:59.999999'], TermKind::Moment, false),
            in_array($name, ['round', 'floor', 'ceiling'], true) => $this->rounded($call, $terms[0]),
            default => throw CannotFilter::notHere("The function $name", $call->at()),
        };
    }

    /**
     * @param  list<Term>  $terms
     *
     * @throws CannotFilter
     */
    private function text(FilterCall $call, array $terms): Term
    {
        foreach ($terms as $term) {
            $this->want($call, $term, [TermKind::Text]);
        }
        [$kind, $sql] = self::TEXTS[$call->name];
        if ($call->name === 'startswith' && $terms[1]->literal !== null && $terms[1]->kind === TermKind::Text) {
            // As a pattern, it can be looked up in an index.
            $pattern = strtr(LiteralTerm::quoted($terms[1]->literal), ['\\' => '\\\\', '%' => '\\%', '_' => '\\_']).'%';

            return Term::truth('({0} LIKE {1})', $terms[0], LiteralTerm::text($pattern));
        }
        $term = Term::of($kind, $sql, ...$terms);

        return $kind === TermKind::Number ? $term->whole() : $term;
    }

    /**
     * From a place on, the first being 0, so many characters or all that follow.
     *
     * @param  list<Term>  $terms
     *
     * @throws CannotFilter
     */
    private function substring(FilterCall $call, array $terms): Term
    {
        $this->want($call, $terms[0], [TermKind::Text]);
        foreach (array_slice($terms, 1) as $term) {
            if (! $this->want($call, $term, [TermKind::Number])->isWhole && $term->kind !== TermKind::Nothing) {
                throw CannotFilter::because('substring takes whole numbers for the place and the number of characters.', $call->at());
            }
            if ($term->literal !== null && str_starts_with($term->literal, '-')) {
                throw CannotFilter::notHere('substring with a negative number', $call->at());
            }
        }

        return Term::of(TermKind::Text, 'SUBSTRING({0}, GREATEST({1}, 0) + 1'.(isset($terms[2]) ? ', GREATEST({2}, 0)' : '').')', ...$terms);
    }

    /**
     * @throws CannotFilter
     */
    private function part(FilterCall $call, Term $term): Term
    {
        [$sql, $kinds] = self::MOMENTS[$call->name];
        if (! $this->version->isV4() && $term->kind === TermKind::Date) {
            // In version 2 a day is a moment, at midnight.
            $kinds[] = TermKind::Date;
        }
        $this->want($call, $term, $kinds);
        $number = Term::of(TermKind::Number, $sql, $term);

        return $call->name === 'fractionalseconds' ? $number : $number->whole();
    }

    /**
     * Halves go away from zero.
     *
     * @throws CannotFilter
     */
    private function rounded(FilterCall $call, Term $term): Term
    {
        $this->want($call, $term, [TermKind::Number, TermKind::Float]);
        if ($term->kind === TermKind::Float) {
            return Term::of(TermKind::Float, ['round' => 'IF(ABS({0}) < 4503599627370496, SIGN({0}) * (FLOOR(ABS({0})) + (ABS({0}) - FLOOR(ABS({0})) >= 0.5)), {0})', 'floor' => 'FLOOR({0})', 'ceiling' => 'CEILING({0})'][$call->name], $term);
        }

        return Term::of($term->kind, ['round' => 'ROUND({0})', 'floor' => 'FLOOR({0})', 'ceiling' => 'CEILING({0})'][$call->name], $term)->whole();
    }

    /**
     * @param  list<TermKind>  $kinds
     *
     * @throws CannotFilter
     */
    private function want(FilterCall $call, Term $term, array $kinds): Term
    {
        if (! in_array($term->kind, $kinds, true) && $term->kind !== TermKind::Nothing) {
            throw CannotFilter::because("$call->name takes ".implode(' or ', array_map(static fn (TermKind $kind): string => $kind->value, $kinds)).", not {$term->kind->value}.", $call->at());
        }

        return $term;
    }
}
