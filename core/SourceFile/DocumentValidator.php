<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Phrase;
use Opis\JsonSchema\Errors\ValidationError;
use Opis\JsonSchema\Validator as SchemaValidator;

/**
 * The schema first, then what a schema cannot say (`Coherence`).
 */
final class DocumentValidator
{
    private const MOST_FAULTS = 20;

    /**
     * @param  array<string, mixed>  $document
     * @param  array<string, mixed>  $known  a valid one; endpoints that are as they were there are not looked at again
     * @return list<Fault>
     */
    public function faults(array $document, array $known = []): array
    {
        $schema = SourceSchema::json();
        $quick = QuickSchema::of($schema);
        $same = [];
        $before = array_column($known['endpoints'] ?? [], null, 'slug');
        $short = $document;
        foreach (is_array($document['endpoints'] ?? null) && array_is_list($document['endpoints']) ? $document['endpoints'] : [] as $number => $endpoint) {
            $isSame = is_array($endpoint) && is_string($endpoint['slug'] ?? null) && isset($before[$endpoint['slug']]) && $before[$endpoint['slug']] === $endpoint;
            if ($isSame) {
                $same[] = $number;
            }
            if ($isSame || $quick->isSure($endpoint, '#/$defs/endpoint')) {
                unset($short['endpoints'][$number]);
            }
        }
        $places = [];
        if (is_array($short['endpoints'] ?? null) && $short['endpoints'] !== $document['endpoints']) {
            $places = array_keys($short['endpoints']);
            $short['endpoints'] = array_values($short['endpoints']);
        }
        $validator = new SchemaValidator(max_errors: self::MOST_FAULTS, stop_at_first_error: false);
        $error = $validator->validate($this->objects($short), $schema)->error();
        if ($error === null) {
            return (new Coherence($document, $same))->faults();
        }
        $faults = [];
        foreach ($this->leaves($error) as $leaf) {
            if ($leaf->keyword() === 'additionalProperties' && $this->strangers($leaf) === []) {
                continue;
            }
            $fault = $this->sentence($leaf);
            $fault = $places === [] ? $fault : new Fault((string) preg_replace_callback('/^endpoints\[(\d+)\]/', static fn (array $part): string => "endpoints[{$places[(int) $part[1]]}]", $fault->path), $fault->message);
            $faults[$fault->path.$fault->message] = $fault;
        }

        return array_values($faults);
    }

    /**
     * PHP arrays → what a JSON decoder would give: an empty array is an object where the schema
     * wants one.
     *
     * @param  array<string, mixed>  $value
     */
    private function objects(array $value): mixed
    {
        $document = json_decode((string) json_encode($value));
        foreach (['headers', 'query', 'environments', 'pace'] as $name) {
            if (isset($document->source->{$name}) && $document->source->{$name} === []) {
                $document->source->{$name} = new \stdClass;
            }
        }
        foreach (is_object($document->source->environments ?? null) ? get_object_vars($document->source->environments) : [] as $environment) {
            if (is_object($environment) && isset($environment->variables) && $environment->variables === []) {
                $environment->variables = new \stdClass;
            }
        }
        foreach (is_array($document->source->access ?? null) ? $document->source->access : [] as $entry) {
            foreach (['extra', 'fetch'] as $name) {
                if (is_object($entry) && isset($entry->{$name}) && $entry->{$name} === []) {
                    $entry->{$name} = new \stdClass;
                }
            }
        }
        foreach (is_array($document->endpoints ?? null) ? $document->endpoints : [] as $endpoint) {
            if (isset($endpoint->ask->headers) && $endpoint->ask->headers === []) {
                $endpoint->ask->headers = new \stdClass;
            }
            if (isset($endpoint->ask->body->as) && is_string($endpoint->ask->body->as) && Bodies::writtenAs(['as' => $endpoint->ask->body->as]) === FieldType::Nodes && ($endpoint->ask->body->of ?? null) === []) {
                $endpoint->ask->body->of = new \stdClass;
            }
            if (isset($endpoint->expand)) {
                $endpoint->expand = $this->expansions($endpoint->expand);
            }
            foreach (['answer', 'keep', 'page', 'try'] as $name) {
                if (isset($endpoint->{$name}) && $endpoint->{$name} === []) {
                    $endpoint->{$name} = new \stdClass;
                }
            }
        }

        return $document;
    }

    /**
     * An expansion without options is an empty object.
     */
    private function expansions(mixed $expand): mixed
    {
        if ($expand === []) {
            return new \stdClass;
        }
        foreach ($expand instanceof \stdClass ? get_object_vars($expand) : [] as $name => $inner) {
            if ($inner === []) {
                $expand->{$name} = new \stdClass;
            } elseif ($inner instanceof \stdClass && isset($inner->expand)) {
                $inner->expand = $this->expansions($inner->expand);
            }
        }

        return $expand;
    }

    /**
     * @return list<ValidationError>
     */
    private function leaves(ValidationError $error): array
    {
        $leaves = [];
        foreach ($error->subErrors() as $sub) {
            array_push($leaves, ...$this->leaves($sub));
        }

        return $leaves === [] ? [$error] : $leaves;
    }

    /**
     * Members that the schema does not name. (A known member with a fault inside counts as
     * additional to the validator, too.)
     *
     * @return list<string>
     */
    private function strangers(ValidationError $error): array
    {
        return array_values(array_diff(array_map(strval(...), (array) ($error->args()['properties'] ?? [])), $this->known($error)));
    }

    /**
     * @return list<string>
     */
    private function known(ValidationError $error): array
    {
        $schema = $error->schema()->info()->data();

        return is_object($schema) ? array_map(strval(...), array_keys(get_object_vars($schema->properties ?? new \stdClass))) : [];
    }

    private function sentence(ValidationError $error): Fault
    {
        $steps = $error->data()->fullPath();
        $path = self::path($steps);
        $args = $error->args();
        $schema = $error->schema()->info()->data();
        $value = $error->data()->value();
        $shown = is_scalar($value) ? (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : 'this';

        return match ($error->keyword()) {
            'required' => new Fault($path, 'needs '.self::list((array) ($args['missing'] ?? [])).'.'),
            'additionalProperties' => new Fault($path, self::unknown($this->strangers($error), $this->known($error))),
            'enum' => new Fault($path, "$shown is not possible here; allowed are ".implode(', ', is_object($schema) ? (array) ($schema->enum ?? []) : []).'.'),
            'const' => new Fault($path, 'must be '.json_encode(is_object($schema) ? $schema->const ?? null : null).", not $shown."),
            'type' => new Fault($path, 'must be '.implode(' or ', array_map(static fn (string $type): string => ['object' => 'a mapping', 'array' => 'a list', 'string' => 'a text', 'integer' => 'a whole number', 'number' => 'a number', 'boolean' => 'true or false', 'null' => 'empty'][$type] ?? $type, (array) ($args['expected'] ?? []))).'.'),
            'pattern' => new Fault($path, self::pattern($path, $shown)),
            'minLength' => new Fault($path, 'must not be empty.'),
            'maxLength' => new Fault($path, 'is too long; at most '.Phrase::count((int) ($args['max'] ?? 0), 'character').'.'),
            'minimum', 'maximum' => new Fault($path, "$shown is outside what is allowed (".($error->keyword() === 'minimum' ? 'at least ' : 'at most ').($args[$error->keyword() === 'minimum' ? 'min' : 'max'] ?? '').').'),
            'minItems', 'minProperties' => new Fault($path, 'needs at least one entry.'),
            'propertyNames' => new Fault($path, 'has a name with characters that are not allowed.'),
            default => new Fault($path, 'is not allowed here.'),
        };
    }

    /**
     * @param  array<array-key, int|string>  $steps
     */
    private static function path(array $steps): string
    {
        $path = '';
        foreach ($steps as $step) {
            $path .= is_int($step) || ctype_digit($step) ? "[$step]" : ($path === '' ? $step : ".$step");
        }

        return $path;
    }

    /**
     * @param  array<array-key, mixed>  $names
     */
    private static function list(array $names): string
    {
        return implode(' and ', array_map(static fn (mixed $name): string => '"'.(is_string($name) ? $name : '').'"', $names));
    }

    /**
     * @param  list<string>  $names
     * @param  list<string>  $known
     */
    private static function unknown(array $names, array $known): string
    {
        $name = $names[0] ?? '';
        $nearest = null;
        foreach ($known as $one) {
            if (levenshtein($name, $one) <= 2 && ($nearest === null || levenshtein($name, $one) < levenshtein($name, $nearest))) {
                $nearest = $one;
            }
        }

        return 'does not know '.self::list($names).($nearest !== null ? "; \"$nearest\" was probably meant." : '; allowed are '.implode(', ', $known).'.');
    }

    private static function pattern(string $path, string $shown): string
    {
        return match (true) {
            str_ends_with($path, '.base') || str_contains($path, 'ask.base.') => "$shown is no base address: it starts with http:// or https://, and has no user name, query or fragment.",
            str_ends_with($path, 'slug') || str_ends_with($path, '.endpoint') => "$shown is no slug: small letters, digits and single hyphens between them.",
            str_ends_with($path, 'ask.path') => "$shown may hold no ?, # or blank; what belongs in the query is an input.",
            str_contains($path, 'secret') => "$shown is no name for a secret: letters, digits, _ and -.",
            str_contains($path, 'headers') => "$shown may hold no line break.",
            preg_match('/\.(records|from|parent|next|more|link|total|pages)$/', $path) === 1 => "$shown is no JSONPath; it starts with $.",
            preg_match('/\.(older_than|step|age|overlap)$/', $path) === 1 => "$shown is no duration: PT15M is 15 minutes, PT2H two hours, P1D a day (ISO 8601).",
            default => "$shown has characters that are not allowed here.",
        };
    }
}
