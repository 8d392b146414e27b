<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Access\Schemes;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\Method;
use DeepSpring\Check\Checks;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Onward\Pagers;
use DeepSpring\Value\Kind\Family;

/**
 * The JSON Schema of a source file: what stands in schema.json, with what pagers, access schemes, column types,
 * bodies, formats and checks declare of themselves. `docs/schema/source-1.json` is this, written down.
 */
final class SourceSchema
{
    /** @var array<string, string> made before, by the kinds there were */
    private static array $made = [];

    public static function json(): string
    {
        $kinds = implode(' / ', array_map(static fn (Family $family): string => implode(' ', $family->names()), [Pagers::family(), Schemes::family(), Types::family(), Bodies::family(), Formats::family(), Checks::family()]));

        return self::$made[$kinds] ??= self::make();
    }

    private static function make(): string
    {
        $schema = json_decode((string) file_get_contents(__DIR__.'/schema.json'), true, flags: JSON_THROW_ON_ERROR);
        $schema['$defs']['onward'] = Pagers::family()->schema('style');
        $schema['$defs']['access'] = Schemes::family()->schema('scheme');
        $schema['$defs']['body'] = Bodies::schema();
        $schema['$defs']['endpoint']['properties']['ask']['properties']['method'] = ['enum' => Method::ALL];
        $answer = &$schema['$defs']['endpoint']['properties']['answer']['properties'];
        $answer += Formats::schemas();
        $schema['$defs']['endpoint']['properties']['keep']['properties']['checks']['items'] = Checks::schema();
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
