<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Ask\File;
use DeepSpring\Describe\Curl\FormPart;
use DeepSpring\Describe\InputNames;

/**
 * Parts of a form with files → the body of an endpoint, with an input for each name.
 */
final class BodyFromParts
{
    /** Bytes of a file that is kept as the value to try with. */
    private const LARGEST_FILE = 200_000;

    /**
     * @param  list<FormPart>  $parts
     * @param  list<string>  $taken  names of inputs that are there already
     * @return array{array<string, mixed>, list<array<string, mixed>>} body and inputs of a source file
     */
    public static function of(array $parts, array $taken): array
    {
        $names = new InputNames($taken);
        $fields = new \stdClass;
        $inputs = [];
        $byName = [];
        foreach ($parts as $part) {
            $name = trim((string) preg_replace('/[\x00-\x1f]+/', '', $part->name));
            $byName[$name === '' ? 'file' : $name][] = $part;
        }
        foreach ($byName as $name => $same) {
            $name = (string) $name;
            // A part that has a type or a file name of its own is sent as a file is.
            $isFile = array_filter($same, static fn (FormPart $part): bool => $part->isFile || $part->type !== null || $part->filename !== null) !== [];
            $values = array_map(static fn (FormPart $part): ?string => $isFile ? self::file($part, $name) : (string) $part->content, $same);
            $known = array_values(array_filter($values, static fn (?string $value): bool => $value !== null));
            $input = ['name' => $names->take([$name]), 'in' => 'body'] + ($isFile ? ['type' => 'file'] : [])
                + match (true) {
                    count($same) > 1 => ['many' => 'repeat', 'try' => $known],
                    $known === [] => [],
                    $known[0] === '' => ['send_empty' => true],
                    default => ['try' => $known[0]],
                };
            $inputs[] = $input;
            $fields->{$name} = (object) ['input' => $input['name']];
        }

        return [['as' => 'multipart', 'of' => $fields], $inputs];
    }

    private static function file(FormPart $part, string $name): ?string
    {
        if ($part->content === null || strlen($part->content) > self::LARGEST_FILE) {
            return null;
        }

        return (new File($part->filename ?? $name, $part->type ?? ($part->isFile ? 'application/octet-stream' : 'text/plain'), $part->content))->value();
    }
}
