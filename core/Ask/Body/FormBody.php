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
 * `application/x-www-form-urlencoded`, as the URL Standard (§5.2) writes it.
 */
final class FormBody implements Body
{
    use FieldNodes;

    public static function kind(): Kind
    {
        return new Kind('form', 'Form', 'Fields as a web form sends them (`application/x-www-form-urlencoded`).', [
            new Field('of', FieldType::Nodes, 'fields', '`{"input": "due"}` stands for an input, `{"text": "Loan to {borrower}"}` for a text with inputs in it, `{"literal": …}` for just what it holds.', isRequired: true),
        ]);
    }

    public function encode(InputValues $values): Encoded
    {
        $pairs = [];
        foreach ($this->fields as $name => $field) {
            $node = BodyNode::of($field);
            if ($node->kind === 'input') {
                $given = $values->all($node->value);
                $input = $values->input($node->value);
                $given = $input->type === InputType::File ? array_map(static fn (string $one): string => File::of($one)->content ?? '', $given) : $given;
                array_push($pairs, ...($given === [] ? [] : ($input->many ?? ListStyle::Repeat)->pairs((string) $name, $given)));
            } else {
                $value = $this->value($node, $values);
                array_push($pairs, ...($value === null ? [] : [[(string) $name, $value]]));
            }
        }

        return new Encoded('application/x-www-form-urlencoded', implode('&', array_map(static fn (array $pair): string => urlencode($pair[0]).'='.urlencode($pair[1]), $pairs)));
    }
}
