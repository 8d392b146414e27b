<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\File;
use DeepSpring\Ask\InputType;
use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\ListStyle;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * `multipart/form-data` (RFC 7578). Names are escaped as the HTML Standard says, so that a quote or
 * a line break in one cannot end its header.
 */
final class MultipartBody implements Body
{
    use FieldNodes;

    public static function kind(): Kind
    {
        return new Kind('multipart', 'Form with files', 'Fields and files (`multipart/form-data`, RFC 7578).', [
            new Field('of', FieldType::Nodes, 'fields', '`{"input": "due"}` stands for an input, `{"text": "Loan to {borrower}"}` for a text with inputs in it, `{"literal": …}` for just what it holds.', isRequired: true),
        ]);
    }

    public function encode(InputValues $values): Encoded
    {
        $parts = [];
        foreach ($this->fields as $name => $field) {
            $node = BodyNode::of($field);
            if ($node->kind !== 'input') {
                $value = $this->value($node, $values);
                array_push($parts, ...($value === null ? [] : [[(string) $name, $value, null]]));

                continue;
            }
            $input = $values->input($node->value);
            foreach ($values->isGiven($node->value) ? ($input->many ?? ListStyle::Repeat)->pairs((string) $name, $values->all($node->value)) : [] as [$as, $value]) {
                $file = $input->type === InputType::File ? File::of($value) : null;
                $parts[] = [$as, $file === null ? $value : $file->content, $file];
            }
        }
        $boundary = self::boundary($parts);
        $bytes = '';
        foreach ($parts as [$name, $content, $file]) {
            $bytes .= "--$boundary\r\nContent-Disposition: form-data; name=\"".self::escaped($name).'"'.($file === null ? '' : '; filename="'.self::escaped($file->name)."\"\r\nContent-Type: {$file->type}")."\r\n\r\n$content\r\n";
        }

        return new Encoded("multipart/form-data; boundary=$boundary", "$bytes--$boundary--\r\n");
    }

    /**
     * One that occurs in no part, and is the same whenever the parts are.
     *
     * @param  list<array{string, string, File|null}>  $parts
     */
    private static function boundary(array $parts): string
    {
        for ($salt = 0; ; $salt++) {
            $boundary = 'part-'.hash('xxh128', $salt.serialize(array_map(static fn (array $part): array => [$part[0], $part[1]], $parts)));
            if (array_filter($parts, static fn (array $part): bool => str_contains($part[1], $boundary)) === []) {
                return $boundary;
            }
        }
    }

    private static function escaped(string $name): string
    {
        return strtr($name, ["\r" => '%0D', "\n" => '%0A', '"' => '%22']);
    }
}
