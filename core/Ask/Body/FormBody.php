<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\File;
use DeepSpring\Ask\InputType;
use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\ListStyle;

/**
 * `application/x-www-form-urlencoded`, as the URL Standard (§5.2) writes it.
 */
final class FormBody implements Body
{
    use FieldNodes;

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
