<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A piece of a statement. Blanks and comments are none.
 */
final readonly class Token
{
    /**
     * @param  string  $text  as it is written
     * @param  int  $at  bytes before it
     */
    public function __construct(public TokenKind $kind, public string $text, public int $at)
    {
    }

    /**
     * The byte after it.
     */
    public function end(): int
    {
        return $this->at + strlen($this->text);
    }

    /**
     * Whether it is one of these keywords or signs, in small letters.
     */
    public function is(string ...$words): bool
    {
        return ($this->kind === TokenKind::Word || $this->kind === TokenKind::Sign) && in_array(strtolower($this->text), $words, true);
    }

    /**
     * What a name, a parameter or a text says; null for a sign or a number.
     */
    public function value(): ?string
    {
        return match ($this->kind) {
            TokenKind::Word => $this->text,
            TokenKind::Name => str_replace('``', '`', substr($this->text, 1, -1)),
            TokenKind::Parameter => substr($this->text, 1),
            TokenKind::Text => stripcslashes(str_replace([$this->text[0].$this->text[0]], [$this->text[0]], substr($this->text, 1, -1))),
            default => null,
        };
    }

    /**
     * The name that it can be, of a table, a column or an alias.
     */
    public function name(): ?string
    {
        return $this->kind === TokenKind::Word || $this->kind === TokenKind::Name ? $this->value() : null;
    }
}
