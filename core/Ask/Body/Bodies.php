<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Value\Kind\Family;
use DeepSpring\Value\Kind\FieldType;

/**
 * The kinds of body there are. A new one is a class that implements `Body`, and a line here.
 */
final class Bodies
{
    /** What a body is that does not say it. */
    public const USUAL = 'json';

    private const ALL = [JsonBody::class, FormBody::class, MultipartBody::class, TextBody::class, XmlBody::class];

    /** @var Family<Body>|null */
    private static ?Family $family = null;

    /**
     * @return Family<Body>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(Body::class, self::ALL);
    }

    /**
     * @param  array<string, mixed>  $body  valid by the schema
     */
    public static function of(array $body): Body
    {
        $class = self::family()->class($body['as'] ?? self::USUAL) ?? JsonBody::class;

        return $class::of($body);
    }

    /**
     * How the kind of a body is written.
     *
     * @param  array<string, mixed>|null  $body
     */
    public static function writtenAs(?array $body): FieldType
    {
        return self::family()->kind($body['as'] ?? self::USUAL)?->field('of')->type ?? FieldType::Tree;
    }

    /**
     * What stands in a source file under `body`.
     *
     * @return array<string, mixed> JSON Schema
     */
    public static function schema(): array
    {
        $properties = $rules = [];
        $properties['as'] = ['enum' => self::family()->names()];
        foreach (self::family()->kinds() as $kind) {
            foreach ($kind->fields as $field) {
                $properties[$field->name] ??= $field->name === 'of' ? true : $field->schema();
                if ($field->name === 'of' && $field->schema() !== []) {
                    $rules[] = ['if' => ['required' => ['as'], 'properties' => ['as' => ['const' => $kind->name]]], 'then' => ['properties' => ['of' => $field->schema()]]];
                }
            }
        }

        return ['type' => ['object', 'null'], 'required' => ['of'], 'additionalProperties' => false, 'properties' => $properties, 'allOf' => $rules];
    }
}
