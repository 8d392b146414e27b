<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;
use DeepSpring\Sql\Token;
use DeepSpring\Sql\TokenKind;

/**
 * One condition of several that all have to hold: a column or a measure compared with values, or something
 * that is only known as text.
 */
final readonly class PickedCondition
{
    /** Those that take values with commas between them. */
    private const SEVERAL = [HowCompared::OneOf, HowCompared::NoneOf, HowCompared::Between];

    /**
     * @param  string  $text  as it is written
     * @param  string|null  $column  what is compared, as it is written; null for what is only known as text
     * @param  list<string>  $values  as somebody would type them
     */
    private function __construct(public string $text, public ?string $column, public ?HowCompared $how, public array $values)
    {
    }

    public static function of(string $text): self
    {
        $tokens = Lexer::read($text);
        foreach ($tokens as $number => $token) {
            if (! $token->is('=', '<>', '!=', '<', '<=', '>', '>=', 'in', 'not', 'is', 'between', 'like') || $number === 0) {
                continue;
            }
            $column = substr($text, $tokens[0]->at, $tokens[$number - 1]->end() - $tokens[0]->at);
            if (! self::isPlain(array_slice($tokens, 0, $number))) {
                break;
            }
            foreach (self::readings(array_slice($tokens, $number)) as [$how, $values]) {
                if ($how->wants() === '' || $values !== [] && ! in_array('', array_map(self::shown(...), $values), true)) {
                    $written = $how->sql($column, array_map(self::asWritten(...), $values));
                    if (PickedColumn::plain($written) === str_replace(' != ', ' <> ', PickedColumn::plain($text))) {
                        return new self($text, $column, $how, array_map(self::shown(...), $values));
                    }
                }
            }

            break;
        }

        return new self($text, null, null, []);
    }

    /**
     * @param  string  $given  what somebody typed
     * @param  bool  $isNumber  whether the column holds numbers
     *
     * @throws CannotBuild
     */
    public static function made(string $column, HowCompared $how, string $given, bool $isNumber): self
    {
        $several = in_array($how, self::SEVERAL, true);
        $all = $several ? array_map(static fn (?string $one): string => trim((string) $one), str_getcsv($given, ',', '"', '')) : [$isNumber ? trim($given) : $given];
        $values = $how->wants() === '' ? [] : array_values(array_filter($all, static fn (string $one): bool => $one !== ''));
        if ($how->wants() !== '' && $values === [] || $how === HowCompared::Between && count($values) !== 2) {
            throw CannotBuild::because("\"{$how->label()}\" needs {$how->wants()}.");
        }
        $isText = in_array($how, [HowCompared::Contains, HowCompared::Begins], true);

        return self::of($how->sql($column, array_map(static fn (string $one): string => self::literal($one, $isNumber && ! $isText), $values)));
    }

    /**
     * What stands in the field of its values.
     */
    public function given(): string
    {
        $several = in_array($this->how, self::SEVERAL, true);

        return implode(', ', array_map(static fn (string $one): string => $several && preg_match('/[",]/', $one) === 1 ? '"'.str_replace('"', '""', $one).'"' : $one, $this->values));
    }

    /**
     * @throws CannotBuild
     */
    private static function literal(string $typed, bool $isNumber): string
    {
        if (preg_match('/^:[a-z_][a-z0-9_]*$/iD', $typed) === 1) {
            return $typed;
        }
        if ($isNumber) {
            return preg_match('/^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?$/iD', $typed) === 1 ? $typed : throw CannotBuild::because("\"$typed\" is no number, which this column holds.");
        }

        return "'".strtr($typed, ['\\' => '\\\\', "'" => "''"])."'";
    }

    /**
     * A column, or a function of one: what can be named again.
     *
     * @param  list<Token>  $tokens
     */
    private static function isPlain(array $tokens): bool
    {
        $text = implode('', array_map(static fn (Token $one): string => $one->text, $tokens));

        return preg_match('/^(?:[\w`]+(?:\.[\w`]+)?|(?:count|sum|avg|min|max)\((?:distinct)?(?:\*|[\w`]+(?:\.[\w`]+)?)\))$/iD', $text) === 1;
    }

    /**
     * What it can be, by the sign that compares.
     *
     * @param  list<Token>  $tokens  from that sign on
     * @return list<array{HowCompared, list<string>}> with literals as they are written
     */
    private static function readings(array $tokens): array
    {
        $values = array_values(array_map(static fn (Token $one): string => $one->text, array_filter($tokens, static fn (Token $one): bool => in_array($one->kind, [TokenKind::Text, TokenKind::Number, TokenKind::Parameter], true))));
        $first = strtolower($tokens[0]->text);
        if (($tokens[1] ?? null)?->is('-') === true && $values !== []) {
            $values[0] = "-$values[0]";
        }
        $how = HowCompared::tryFrom($first === '!=' ? '<>' : ($first === 'not' ? 'not in' : $first));

        return match (true) {
            $first === 'is' => [[HowCompared::IsEmpty, []], [HowCompared::IsThere, []]],
            $first === 'like' => self::patterns($values),
            $how === null => [],
            default => [[$how, $values]],
        };
    }

    /**
     * @param  list<string>  $values
     * @return list<array{HowCompared, list<string>}>
     */
    private static function patterns(array $values): array
    {
        if (count($values) > 1) {
            $names = array_values(array_filter($values, static fn (string $one): bool => $one[0] === ':'));

            return [[HowCompared::Contains, $names], [HowCompared::Begins, $names]];
        }
        $inner = strtr(substr($values[0] ?? "''", 1, -1), ['\\%' => '%', '\\_' => '_', '\\\\\\\\' => '\\\\']);
        $contained = "'".substr($inner, 1, -1)."'";

        return strlen($inner) < 2 ? [] : [[HowCompared::Contains, [$contained]], [HowCompared::Begins, ["'".substr($inner, 0, -1)."'"]]];
    }

    /**
     * A literal as this class writes one, so that only those count as known.
     */
    private static function asWritten(string $literal): string
    {
        return in_array($literal[0], ["'", '"'], true) ? self::literal(self::shown($literal), false) : $literal;
    }

    private static function shown(string $literal): string
    {
        return in_array($literal[0], ["'", '"'], true) ? (string) (Lexer::read($literal)[0]->value() ?? '') : $literal;
    }
}
