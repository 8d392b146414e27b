<?php

declare(strict_types=1);

namespace DeepSpring\Catalog;

use DeepSpring\Access\Schemes;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Check\Checks;
use DeepSpring\Describe\Importers;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Onward\Pagers;
use DeepSpring\Value\Kind\Declared;
use DeepSpring\Value\Kind\Family;
use DeepSpring\Value\Kind\Kind;

/**
 * Everything that is one kind among several, in words: for the documentation and the command line.
 */
final class KindCatalog
{
    /**
     * @return array<string, Family<covariant Declared>> by what the command line calls them
     */
    public static function families(): array
    {
        return [
            'importers' => Importers::family(), 'schemes' => Schemes::family(), 'bodies' => Bodies::family(), 'formats' => Formats::family(),
            'pagers' => Pagers::family(), 'types' => Types::family(), 'checks' => Checks::family(),
        ];
    }

    /**
     * @return array<string, Kind> by name
     */
    public static function kinds(string $family): array
    {
        return (self::families()[$family] ?? null)?->kinds() ?? [];
    }

    /**
     * A table of Markdown: a row for each kind.
     */
    public static function markdown(string $family): string
    {
        $lines = ['| name | title | when | settings |', '|---|---|---|---|'];
        foreach (self::kinds($family) as $kind) {
            $fields = [];
            foreach ($kind->fields as $field) {
                $default = $field->default === null || $field->default === '' ? '' : ' ('.(is_bool($field->default) ? var_export($field->default, true) : $field->default).')';
                $fields[] = ($field->isRequired ? "**`{$field->name}`**" : "`{$field->name}`").$default.': '.rtrim($field->help, '.');
            }
            $lines[] = "| `{$kind->name}` | {$kind->title} | ".rtrim($kind->help, '.').' | '.implode('; ', $fields).' |';
        }

        return implode("\n", $lines)."\n";
    }

    public static function text(string $family): string
    {
        $text = '';
        foreach (self::kinds($family) as $kind) {
            $text .= "$kind->name\n    {$kind->title}. {$kind->help}\n";
            foreach ($kind->fields as $field) {
                $name = $field->name.($field->isRequired ? ' *' : '');
                $text .= '    '.$name.str_repeat(' ', max(1, 18 - strlen($name)))."{$field->help} (".strtr($field->allowed(), ['`' => '']).")\n";
            }
        }

        return $text;
    }

    /**
     * A text with the tables between `<!-- kinds:FAMILY -->` and `<!-- /kinds -->` brought up to date.
     */
    public static function written(string $markdown): string
    {
        return (string) preg_replace_callback('~(<!-- kinds:(\w+) -->\n).*?(<!-- /kinds -->)~s', static fn (array $part): string => $part[1].self::markdown($part[2]).$part[3], $markdown);
    }
}
