<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

use DeepSpring\Answer\JsonPath\Expression\AllOf;
use DeepSpring\Answer\JsonPath\Expression\AnyOf;
use DeepSpring\Answer\JsonPath\Expression\Comparable;
use DeepSpring\Answer\JsonPath\Expression\Comparison;
use DeepSpring\Answer\JsonPath\Expression\CountFunction;
use DeepSpring\Answer\JsonPath\Expression\FilterQuery;
use DeepSpring\Answer\JsonPath\Expression\LengthFunction;
use DeepSpring\Answer\JsonPath\Expression\Literal;
use DeepSpring\Answer\JsonPath\Expression\Logical;
use DeepSpring\Answer\JsonPath\Expression\MatchFunction;
use DeepSpring\Answer\JsonPath\Expression\Not;
use DeepSpring\Answer\JsonPath\Expression\ValueFunction;
use DeepSpring\Answer\JsonPath\Selector\FilterSelector;
use DeepSpring\Answer\JsonPath\Selector\IndexSelector;
use DeepSpring\Answer\JsonPath\Selector\NameSelector;
use DeepSpring\Answer\JsonPath\Selector\Selector;
use DeepSpring\Answer\JsonPath\Selector\SliceSelector;
use DeepSpring\Answer\JsonPath\Selector\WildcardSelector;
use DeepSpring\Value\JsonText;

/**
 * Tokens → query, by the grammar of RFC 9535 appendix A and the type rules of §2.4.3.
 *
 * In one piece, since it has one method for each rule of the grammar, and they call each other.
 */
final class JsonPathParser
{
    private const FUNCTIONS = ['length' => 1, 'count' => 1, 'match' => 2, 'search' => 2, 'value' => 1];

    private const MAX_INTEGER = 9007199254740991;

    private const MAX_DEPTH = 200;

    /** @var list<JsonPathToken> */
    private readonly array $tokens;

    private int $at = 0;

    private int $depth = 0;

    /**
     * @throws InvalidJsonPath
     */
    public function __construct(private readonly string $path)
    {
        $this->tokens = (new JsonPathLexer($path))->tokens();
    }

    /**
     * @throws InvalidJsonPath
     */
    public function query(): JsonPathQuery
    {
        if ($this->peek()->kind !== JsonPathTokenKind::Root) {
            throw $this->error($this->path === '' ? 'A path is empty; it starts with $' : 'A path starts with $');
        }
        $this->at++;
        $query = new JsonPathQuery($this->segments(), true);
        if ($this->take(JsonPathTokenKind::End) === null) {
            throw $this->error("The path should end or go on with a dot or a bracket, not with {$this->peek()->text}");
        }

        return $query;
    }

    /**
     * @return list<Segment>
     */
    private function segments(): array
    {
        $segments = [];
        while (true) {
            $kind = $this->peek()->kind;
            if ($kind === JsonPathTokenKind::LeftBracket) {
                $segments[] = new Segment($this->bracketed(), false);
            } elseif ($kind === JsonPathTokenKind::Dot) {
                $this->at++;
                $segments[] = new Segment([$this->shorthand()], false);
            } elseif ($kind === JsonPathTokenKind::DotDot) {
                $this->at++;
                $segments[] = new Segment($this->peek()->kind === JsonPathTokenKind::LeftBracket && ! $this->peek()->spaced ? $this->bracketed() : [$this->shorthand()], true);
            } else {
                return $segments;
            }
        }
    }

    private function shorthand(): Selector
    {
        $token = $this->peek();
        if ($token->spaced) {
            throw $this->error('No blank space may follow a dot');
        }
        $this->at++;

        return match ($token->kind) {
            JsonPathTokenKind::Star => new WildcardSelector,
            JsonPathTokenKind::Name => new NameSelector($token->text),
            JsonPathTokenKind::Integer, JsonPathTokenKind::Number => throw InvalidJsonPath::at($this->path, $token->position, "After a dot comes a name or *; write [{$token->text}] for an index"),
            default => throw InvalidJsonPath::at($this->path, $token->position, 'After a dot comes a name or *; a name with other characters is written [\'so\']'),
        };
    }

    /**
     * @return non-empty-list<Selector>
     */
    private function bracketed(): array
    {
        $this->at++;
        $selectors = [$this->selector()];
        while ($this->take(JsonPathTokenKind::Comma) !== null) {
            $selectors[] = $this->selector();
        }
        $this->expect(JsonPathTokenKind::RightBracket, 'A bracket is not closed');

        return $selectors;
    }

    private function selector(): Selector
    {
        $token = $this->peek();
        switch ($token->kind) {
            case JsonPathTokenKind::Text:
                $this->at++;

                return new NameSelector($token->text);
            case JsonPathTokenKind::Star:
                $this->at++;

                return new WildcardSelector;
            case JsonPathTokenKind::Question:
                $this->at++;

                return new FilterSelector($this->either());
            case JsonPathTokenKind::Integer:
            case JsonPathTokenKind::Colon:
                return $this->indexOrSlice();
            case JsonPathTokenKind::Name:
                throw $this->error("A name in brackets stands in quotes: ['{$token->text}']");
            default:
                throw $this->error('In brackets comes a quoted name, an index, a slice, * or a ? filter');
        }
    }

    private function indexOrSlice(): Selector
    {
        $start = $this->integer();
        if ($this->take(JsonPathTokenKind::Colon) === null) {
            return new IndexSelector($start ?? 0);
        }
        $end = $this->integer();
        $step = $this->take(JsonPathTokenKind::Colon) === null ? null : $this->integer();

        return new SliceSelector($start, $end, $step ?? 1);
    }

    private function integer(): ?int
    {
        $token = $this->take(JsonPathTokenKind::Integer);
        if ($token === null) {
            return null;
        }
        $value = filter_var($token->text, FILTER_VALIDATE_INT);
        if ($value === false || abs($value) > self::MAX_INTEGER) {
            throw InvalidJsonPath::at($this->path, $token->position, 'An index lies between -(2^53)+1 and 2^53-1');
        }

        return $value;
    }

    private function either(): Logical
    {
        if (++$this->depth > self::MAX_DEPTH) {
            throw $this->error('The filter is nested too deeply');
        }
        $parts = [$this->both()];
        while ($this->take(JsonPathTokenKind::Or) !== null) {
            $parts[] = $this->both();
        }
        $this->depth--;

        return count($parts) === 1 ? $parts[0] : new AnyOf($parts);
    }

    private function both(): Logical
    {
        $parts = [$this->basic()];
        while ($this->take(JsonPathTokenKind::And) !== null) {
            $parts[] = $this->basic();
        }

        return count($parts) === 1 ? $parts[0] : new AllOf($parts);
    }

    private function basic(): Logical
    {
        if ($this->take(JsonPathTokenKind::Not) !== null) {
            return new Not($this->peek()->kind === JsonPathTokenKind::LeftParen ? $this->parenthesised() : $this->test($this->at, $this->operand()));
        }
        if ($this->peek()->kind === JsonPathTokenKind::LeftParen) {
            return $this->parenthesised();
        }
        $start = $this->at;
        $left = $this->operand();
        if (! $this->peek()->kind->isComparison()) {
            return $this->test($start, $left);
        }
        $left = $this->comparable($start, $left);
        $operator = $this->tokens[$this->at++]->kind;
        $start = $this->at;

        return new Comparison($left, $operator, $this->comparable($start, $this->operand()));
    }

    private function parenthesised(): Logical
    {
        $this->at++;
        $inside = $this->either();
        $this->expect(JsonPathTokenKind::RightParen, 'A parenthesis is not closed');

        return $inside;
    }

    /**
     * A literal, a query or a function call; what it may be used for is checked by the caller.
     */
    private function operand(): Literal|FilterQuery|Logical|Comparable
    {
        $token = $this->peek();
        $this->at++;
        switch ($token->kind) {
            case JsonPathTokenKind::Text:
                return new Literal($token->text);
            case JsonPathTokenKind::Integer:
                return new Literal(($int = filter_var($token->text, FILTER_VALIDATE_INT)) === false ? new JsonText($token->text) : $int);
            case JsonPathTokenKind::Number:
                return new Literal(self::number($token->text));
            case JsonPathTokenKind::Root:
            case JsonPathTokenKind::Current:
                return new FilterQuery(new JsonPathQuery($this->segments(), $token->kind === JsonPathTokenKind::Root));
            case JsonPathTokenKind::Name:
                if ($this->peek()->kind === JsonPathTokenKind::LeftParen && ! $this->peek()->spaced) {
                    return $this->call($token);
                }

                return match ($token->text) {
                    'true' => new Literal(true),
                    'false' => new Literal(false),
                    'null' => new Literal(null),
                    default => throw InvalidJsonPath::at($this->path, $token->position, "{$token->text} is not known here; a member is written @.{$token->text}, a text in quotes"),
                };
            default:
                throw InvalidJsonPath::at($this->path, $token->position, 'A filter compares or tests values: @ for the current one, $ for the whole document, a literal or a function');
        }
    }

    private function test(int $start, Literal|FilterQuery|Logical|Comparable $operand): Logical
    {
        if ($operand instanceof Logical) {
            return $operand;
        }

        throw InvalidJsonPath::at($this->path, $this->tokens[$start]->position, $operand instanceof Literal ? 'A literal alone is no test; compare it with something' : 'This function gives a value; compare it with something');
    }

    private function comparable(int $start, Literal|FilterQuery|Logical|Comparable $operand): Comparable
    {
        if ($operand instanceof FilterQuery && ! $operand->query->isSingular()) {
            throw InvalidJsonPath::at($this->path, $this->tokens[$start]->position, 'Only a path that finds at most one value can be compared');
        }
        if ($operand instanceof Comparable) {
            return $operand;
        }

        throw InvalidJsonPath::at($this->path, $this->tokens[$start]->position, 'match() and search() are tests already and are not compared');
    }

    private function call(JsonPathToken $name): Logical|Comparable
    {
        $wanted = self::FUNCTIONS[$name->text] ?? null;
        if ($wanted === null) {
            throw InvalidJsonPath::at($this->path, $name->position, "There is no function {$name->text}(); there are ".implode(', ', array_map(static fn (string $f): string => "$f()", array_keys(self::FUNCTIONS))));
        }
        if (++$this->depth > self::MAX_DEPTH) {
            throw $this->error('The filter is nested too deeply');
        }
        $this->at++;
        $arguments = [];
        $starts = [];
        while ($this->peek()->kind !== JsonPathTokenKind::RightParen) {
            if ($arguments !== []) {
                $this->expect(JsonPathTokenKind::Comma, 'Arguments are separated by commas');
            }
            $starts[] = $this->at;
            $arguments[] = $this->operand();
        }
        $this->at++;
        $this->depth--;
        if (count($arguments) !== $wanted) {
            throw InvalidJsonPath::at($this->path, $name->position, "{$name->text}() takes $wanted ".($wanted === 1 ? 'argument' : 'arguments').', not '.count($arguments));
        }

        return match ($name->text) {
            'length' => new LengthFunction($this->comparable($starts[0], $arguments[0])),
            'count' => new CountFunction($this->nodesArgument($starts[0], $arguments[0], 'count')),
            'value' => new ValueFunction($this->nodesArgument($starts[0], $arguments[0], 'value')),
            default => new MatchFunction($this->comparable($starts[0], $arguments[0]), $this->comparable($starts[1], $arguments[1]), $name->text === 'match'),
        };
    }

    private function nodesArgument(int $start, Literal|FilterQuery|Logical|Comparable $argument, string $function): FilterQuery
    {
        return $argument instanceof FilterQuery ? $argument
            : throw InvalidJsonPath::at($this->path, $this->tokens[$start]->position, "$function() takes a path");
    }

    private function peek(): JsonPathToken
    {
        return $this->tokens[$this->at];
    }

    /**
     * @phpstan-impure
     */
    private function take(JsonPathTokenKind $kind): ?JsonPathToken
    {
        return $this->peek()->kind === $kind ? $this->tokens[$this->at++] : null;
    }

    private function expect(JsonPathTokenKind $kind, string $reason): void
    {
        if ($this->take($kind) === null) {
            throw $this->error($reason);
        }
    }

    private function error(string $reason): InvalidJsonPath
    {
        return InvalidJsonPath::at($this->path, $this->peek()->position, $reason);
    }

    /**
     * A number with a point or an exponent, as a float where that is the same number.
     */
    private static function number(string $text): float|JsonText
    {
        $isShort = strlen(ltrim(str_replace(['-', '.'], '', (string) preg_replace('/[eE].*$/s', '', $text)), '0')) <= 15;

        return $isShort && preg_match('/[eE][+-]?\d{3}/', $text) !== 1 ? (float) $text : new JsonText($text);
    }
}
