<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

enum JsonPathTokenKind: string
{
    case Root = '$';
    case Current = '@';
    case Dot = '.';
    case DotDot = '..';
    case LeftBracket = '[';
    case RightBracket = ']';
    case LeftParen = '(';
    case RightParen = ')';
    case Star = '*';
    case Colon = ':';
    case Comma = ',';
    case Question = '?';
    case And = '&&';
    case Or = '||';
    case Not = '!';
    case Equal = '==';
    case NotEqual = '!=';
    case LessOrEqual = '<=';
    case GreaterOrEqual = '>=';
    case Less = '<';
    case Greater = '>';
    case Name = 'a name';
    case Text = 'a string';
    case Integer = 'an integer';
    case Number = 'a number';
    case End = 'the end';

    public function isComparison(): bool
    {
        return match ($this) {
            self::Equal, self::NotEqual, self::LessOrEqual, self::GreaterOrEqual, self::Less, self::Greater => true,
            default => false,
        };
    }
}
