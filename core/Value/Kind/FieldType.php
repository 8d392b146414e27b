<?php

declare(strict_types=1);

namespace DeepSpring\Value\Kind;

/**
 * What a setting can hold. The value is what the documentation says.
 */
enum FieldType: string
{
    case Text = 'text';

    /** With variables of an environment in it. */
    case VariableText = 'text or a variable';

    /** RFC 9110 §5.6.2. */
    case Token = 'a name of HTTP';

    case Parameter = 'name of a parameter';

    /** A text, a secret or a variable. */
    case Value = 'text, a secret or a variable';

    case Url = 'URL';

    case Path = 'JSONPath';

    /** JSONPath in the answer, or the name of a header. */
    case Figure = 'JSONPath or name of a header';

    case Paths = 'names → JSONPaths';

    case Parameters = 'names → values';

    case Number = 'whole number from 0';

    case Count = 'whole number from 1';

    case Size = 'whole number from 1 to 100 000';

    case Flag = 'true or false';

    case Choice = 'one of several';

    case Statuses = 'list of statuses';

    case Duration = 'ISO 8601 duration';

    case Moment = 'date, moment, `now` or how long ago';

    /** Below the base URL, without query. */
    case RequestPath = 'path';

    /** Several settings in one object. */
    case Group = 'object';

    /** Names and values of a body, each of which can be a secret. */
    case Members = 'names → values, secrets';

    /** Where something stands in a response: JSONPath, `header NAME` or `cookie NAME`. */
    case Take = 'JSONPath, header or cookie';

    /** Blanks at its ends belong to it. */
    case Raw = 'text as it stands';

    /** JSON with nodes in it that stand for inputs. */
    case Tree = 'JSON with inputs';

    /** Names of fields, each with one node. */
    case Nodes = 'names → values, inputs';

    /** Text with `{name}` for inputs. */
    case Template = 'text with inputs';

    /** Objects of a tree. */
    case Objects = 'list of JSONPaths';

    /** Settings of paging again. */
    case Paging = 'paging';

    /** Of a table, as the source file calls it. */
    case Column = 'name of a column';

    case Columns = 'list of names of columns';

    /** Texts, numbers, true or false. */
    case Values = 'list of values';

    case Scalar = 'number or text';

    case Percent = 'percent, 0 to 100';

    /** In the language of computed columns. */
    case Condition = 'expression that is true or false';

    /**
     * @param  array<int|string, string>  $choices
     * @return array<string, mixed>
     */
    public function schema(array $choices = []): array
    {
        $reference = static fn (string $name): array => ['$ref' => "#/\$defs/$name"];

        return match ($this) {
            self::Tree => [],
            self::Objects => ['type' => 'array', 'items' => $reference('path')],
            self::Text, self::Raw, self::Template => ['type' => 'string'],
            self::VariableText => $reference('text'),
            self::Token => ['type' => 'string', 'pattern' => "^[A-Za-z0-9!#\$%&'*+.^_`|~-]+$"],
            self::Parameter => $reference('parameter'),
            self::Value => $reference('value'),
            self::Url => $reference('url'),
            self::Path => $reference('path'),
            self::Figure => $reference('figure'),
            self::Paths => ['type' => 'object', 'maxProperties' => 10, 'additionalProperties' => $reference('path')],
            self::Parameters => $reference('parameters'),
            self::Number => ['type' => 'integer', 'minimum' => 0],
            self::Count => $reference('most'),
            self::Size => $reference('size'),
            self::Flag => ['type' => 'boolean'],
            self::Choice => ['enum' => array_values(array_filter(array_map(strval(...), array_keys($choices)), static fn (string $one): bool => $one !== ''))],
            self::Statuses => $reference('statuses'),
            self::Duration => $reference('duration'),
            self::Moment => $reference('moment'),
            self::RequestPath => ['type' => 'string', 'pattern' => '^[^?#\\s]*$'],
            self::Group, self::Members, self::Nodes, self::Take => ['type' => 'object'],
            self::Paging => $reference('onward'),
            self::Column => ['type' => 'string', 'minLength' => 1, 'maxLength' => 200],
            self::Columns => ['type' => 'array', 'minItems' => 1, 'maxItems' => 100, 'items' => ['type' => 'string', 'minLength' => 1, 'maxLength' => 200]],
            self::Values => ['type' => 'array', 'minItems' => 1, 'maxItems' => 1000, 'items' => ['type' => ['string', 'number', 'boolean']]],
            self::Scalar => ['type' => ['string', 'number']],
            self::Percent => ['type' => 'number', 'minimum' => 0, 'maximum' => 100],
            self::Condition => $reference('expression'),
        };
    }

    public function isNumber(): bool
    {
        return in_array($this, [self::Number, self::Count, self::Size], true);
    }
}
