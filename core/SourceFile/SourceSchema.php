<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Access\Schemes;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Onward\Pagers;

/**
 * The JSON Schema of a source file: what stands in schema.json, with what pagers, access schemes and column
 * types declare of themselves. `docs/schema/source-1.json` is this, written down.
 */
final class SourceSchema
{
    /** @var array<string, string> made before, by the kinds there were */
    private static array $made = [];

    public static function json(): string
    {
        $kinds = implode(' ', [...Pagers::family()->names(), '/', ...Schemes::family()->names(), '/', ...Types::family()->names()]);

        return self::$made[$kinds] ??= self::make();
    }

    private static function make(): string
    {
        $schema = json_decode((string) file_get_contents(__DIR__.'/schema.json'), true, flags: JSON_THROW_ON_ERROR);
        $schema['$defs']['onward'] = Pagers::family()->schema('style');
        $schema['$defs']['access'] = Schemes::family()->schema('scheme');
        $column = $schema['$defs']['column']['properties'];
        $column['type'] = ['enum' => Types::family()->names()];
        foreach (Types::family()->kinds() as $kind) {
            foreach ($kind->fields as $field) {
                $column[$field->name] ??= $field->schema();
            }
        }
        $schema['$defs']['column']['properties'] = $column;

        return json_encode($schema, JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_THROW_ON_ERROR)."\n";
    }
}
