<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;
use DeepSpring\Value\NearestName;

/**
 * 400 and 422 (RFC 9110 §15.5.1, §15.5.21): which input, and what about it.
 */
final readonly class BadRequest implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $status = $situation->status;
        if ($status !== 400 && $status !== 422) {
            return null;
        }
        $error = ErrorBody::of($situation->body);
        $said = $error->sentence ?? '';
        $what = "The service did not accept the request ($status).{$situation->said()}";

        return $this->unknown($situation, $said, $what)
            ?? $this->type($situation, $error, $said, $what)
            ?? $this->missing($situation, $error, $said, $what)
            ?? ($error->fields === [] ? null : $this->fields($error, $what))
            ?? new Diagnosis("$status", $what, 'Compare the inputs with the documentation: names, formats, and which are required.', 'ask', Sureness::General);
    }

    private function unknown(Situation $situation, string $said, string $what): ?Diagnosis
    {
        if (preg_match('/(?:unknown|unrecogni[sz]ed|unexpected|unsupported|invalid|no such|not a valid|undefined)\s+(?:query\s+|request\s+)?(?:parameter|param|argument|field|query option|key)s?(?:\s+name)?[^\w]+[\'"`]?([\w$-]+(?:\.\w+)*)/i', $said, $part) !== 1) {
            return null;
        }
        $name = $part[1];
        $known = [];
        if (preg_match('/\b(?:allowed|known|valid|expected|supported|possible|one of)\b[^:]*:\s*([\w\s,$\[\]"\'-]+)/i', $said, $list) === 1) {
            $known = array_values(array_filter(array_map(static fn (string $one): string => trim($one, " \"'[].\n"), preg_split('/,|\band\b|\bor\b/', $list[1]) ?: [])));
        }
        foreach ($situation->ask['inputs'] ?? [] as $number => $input) {
            if ($input['name'] === $name) {
                $meant = NearestName::to($name, $known, 0.5);

                return new Diagnosis('400-parameter', "The service does not know the parameter $name (400).{$situation->said()}", $meant === null ? 'Look up its name in the documentation; some services are strict about upper and lower case.' : "The nearest it knows is $meant.", 'ask', Sureness::Certain, [$said], $meant === null ? Repair::set("Leave $name out and try", ['endpoint', 'ask', 'inputs', $number], null) : Repair::set("Send it as $meant and try", ['endpoint', 'ask', 'inputs', $number, 'name'], $meant));
            }
        }
        $meant = NearestName::to($name, array_column($situation->ask['inputs'] ?? [], 'name'), 0.5);

        return new Diagnosis('400-parameter', "The service does not know the parameter $name (400).{$situation->said()}", $meant === null ? 'None of the inputs has this name: it may come from Onward (how the rest is asked for) or from the query of the source.' : "The input it means is probably $meant.", 'ask', Sureness::Likely, [$said]);
    }

    private function type(Situation $situation, ErrorBody $error, string $said, string $what): ?Diagnosis
    {
        $texts = $error->fields + ['' => $said];
        foreach ($texts as $name => $text) {
            if (preg_match('/must be (?:an? )?(?:valid )?(number|integer|whole number|boolean|true or false|date|datetime|date-time|uuid|string|array|list)|(?:not|invalid) (?:an? )?(?:valid )?(number|integer|boolean|date|datetime|date-time|uuid)|cannot (?:be )?(?:parse|convert|deserialize)|type[_ ]error|invalid type/i', $text, $part) === 1) {
                $wanted = ($part[1] ?? '') !== '' ? $part[1] : ($part[2] ?? '');
                $name = (string) $name !== '' ? (string) $name : $this->namedInput($situation, $text);
                $which = $name === null ? 'A value' : "The value of $name";

                return new Diagnosis("{$situation->status}-type", "$which has the wrong type ($situation->status).{$situation->said()}", ($wanted === '' ? 'See what the documentation wants there' : 'The service wants '.(preg_match('/^[aeiou]/i', $wanted) === 1 ? 'an' : 'a')." $wanted").'; give the input that type, so that it is checked before it is sent.', 'ask', Sureness::Likely, [$text]);
            }
        }

        return null;
    }

    private function missing(Situation $situation, ErrorBody $error, string $said, string $what): ?Diagnosis
    {
        $texts = $error->fields + ['' => $said];
        foreach ($texts as $name => $text) {
            if (preg_match('/required|missing|must (?:be present|not be (?:empty|null|blank))|can.?t be blank|is mandatory/i', $text) === 1) {
                $name = (string) $name !== '' ? (string) $name : (preg_match('/[\'"`]?([A-Za-z_][\w.\[\]-]*)[\'"`]?\s+(?:is|are|field is)?\s*(?:required|missing|mandatory)/i', $text, $part) === 1 ? $part[1] : (preg_match('/(?:missing|requires?)[^\w]+(?:parameter|field|member|property)?[^\w]*[\'"`]?([\w.]+)/i', $text, $part) === 1 ? $part[1] : null));
                if ($name !== null && preg_match('/^(.+)[.\[](\w+)\]?$/', $name, $nested) === 1) {
                    return new Diagnosis("{$situation->status}-nested", "{$nested[1]} was sent without {$nested[2]}, which it needs ($situation->status).{$situation->said()}", "The object {$nested[1]} may be left out, but once one of its members is sent, {$nested[2]} must be too. Fill it, or leave all of {$nested[1]} empty.", 'ask', Sureness::Likely, [$text]);
                }

                return new Diagnosis("{$situation->status}-missing", ($name === null ? 'Something required is missing' : "$name is required and was not sent")." ($situation->status).{$situation->said()}", 'Add it as an input, or give the one that is there a value.', 'ask', Sureness::Likely, [$text]);
            }
        }

        return null;
    }

    private function fields(ErrorBody $error, string $what): Diagnosis
    {
        $lines = [];
        foreach ($error->fields as $name => $text) {
            $lines[] = "$name: $text";
        }

        return new Diagnosis('422-fields', $what, 'The service names what it does not accept: '.implode('; ', array_map(static fn (string $line): string => rtrim($line, '.'), array_slice($lines, 0, 3))).(count($lines) > 3 ? ', and '.(count($lines) - 3).' more.' : '.'), 'ask', Sureness::Certain, $lines);
    }

    private function namedInput(Situation $situation, string $text): ?string
    {
        foreach ($situation->ask['inputs'] ?? [] as $input) {
            if (preg_match('/\b'.preg_quote((string) $input['name'], '/').'\b/i', $text) === 1) {
                return (string) $input['name'];
            }
        }

        return preg_match('/[\'"`]([\w.]+)[\'"`]/', $text, $part) === 1 || preg_match('/^([\w.]+) must be/', $text, $part) === 1 ? $part[1] : null;
    }
}
