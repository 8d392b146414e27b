<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

final class BodyFactory
{
    /** as → what a person calls it */
    public const KINDS = ['json' => 'JSON', 'form' => 'a form', 'multipart' => 'a form with files', 'text' => 'text', 'xml' => 'XML'];

    /**
     * @param  array<string, mixed>  $body  valid by the schema
     */
    public static function of(array $body): Body
    {
        $of = $body['of'] ?? null;

        return match ($body['as'] ?? 'json') {
            'form' => new FormBody(self::fields($of)),
            'multipart' => new MultipartBody(self::fields($of)),
            'text' => new TextBody((string) $of, false),
            'xml' => new TextBody((string) $of, true),
            default => new JsonBody($of, $body['keep_empty'] ?? false, array_values($body['optional'] ?? [])),
        };
    }

    /**
     * @return array<array-key, mixed>
     */
    private static function fields(mixed $of): array
    {
        return $of instanceof \stdClass ? get_object_vars($of) : (is_array($of) ? $of : []);
    }
}
