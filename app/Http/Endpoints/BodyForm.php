<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Editing\SettingField;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\Body\BodyNode;
use DeepSpring\Describe\BodyFromSample;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\Value\JsonText;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * The body of a request as the sheet shows and sends it.
 */
final class BodyForm
{
    /**
     * @param  array<array-key, mixed>  $form
     * @param  array<string, mixed>|null  $was
     * @return array<string, mixed>|null
     *
     * @throws InvalidSourceFile when its text is no JSON
     */
    public static function apply(array $form, ?array $was): ?array
    {
        $as = is_string($form['as'] ?? null) ? $form['as'] : '';
        $kind = Bodies::family()->kind($as);
        if ($kind === null) {
            return null;
        }
        $text = is_string($form['of'] ?? null) ? str_replace("\r\n", "\n", $form['of']) : '';
        $isText = self::isText(['as' => $as]);
        $wasText = self::isText($was);
        if ($was === null || $isText !== $wasText) {
            // Another kind begins with what is there, if it can be read that way.
            $tree = json_decode($text, false, 512, JSON_BIGINT_AS_STRING);
            $of = $isText ? ($was === null ? '' : strtr($text, ['{' => '{{', '}' => '}}'])) : ($tree instanceof \stdClass || is_array($tree) ? $tree : new \stdClass);
        } else {
            $of = $isText ? $text : self::tree($text);
        }
        $body = ['as' => $as, 'of' => $of];
        if (self::setting($body, 'optional') !== null) {
            $optional = array_values(array_filter(is_array($form['optional'] ?? null) ? $form['optional'] : [], is_string(...)));
            $optional = array_values(array_intersect(self::objects($of), $optional));
            $body += $optional === [] ? [] : ['optional' => $optional];
        }
        foreach ($kind->fields as $field) {
            if ($field->type === FieldType::Path && is_string($form[$field->name] ?? null) && trim($form[$field->name]) !== '') {
                $body[$field->name] = trim($form[$field->name]);
            }
            if ($field->type === FieldType::Flag && ($form[$field->name] ?? '') === '1') {
                $body[$field->name] = true;
            }
        }

        return $body;
    }

    /**
     * @return array<string, string> name → title
     */
    public static function choices(): array
    {
        return ['' => 'no body'] + Bodies::family()->titles();
    }

    /**
     * @param  array<string, mixed>|null  $body
     */
    public static function chosen(?array $body): string
    {
        return $body === null ? '' : (string) ($body['as'] ?? Bodies::USUAL);
    }

    /**
     * Whether a body is one text.
     *
     * @param  array<string, mixed>|null  $body
     */
    public static function isText(?array $body): bool
    {
        return Bodies::writtenAs($body) === FieldType::Template;
    }

    /**
     * A setting of the kind of a body, where it has that one.
     *
     * @param  array<string, mixed>  $body
     */
    public static function setting(array $body, string $name): ?Field
    {
        return Bodies::family()->kind($body['as'] ?? Bodies::USUAL)?->field($name);
    }

    /**
     * What can be switched on and off.
     *
     * @param  array<string, mixed>  $body
     * @return list<SettingField>
     */
    public static function flags(array $body): array
    {
        $flags = array_filter(Bodies::family()->kind($body['as'] ?? Bodies::USUAL)->fields ?? [], static fn (Field $field): bool => $field->type === FieldType::Flag);

        return array_values(array_map(static fn (Field $field): SettingField => new SettingField($field, $field->name, "body[{$field->name}]", $body), $flags));
    }

    /**
     * What stands in the field.
     *
     * @param  array<string, mixed>|null  $body
     */
    public static function text(?array $body): string
    {
        if ($body === null) {
            return '';
        }

        return is_string($body['of']) && self::isText($body) ? $body['of'] : self::pretty($body['of'], '');
    }

    /**
     * JSON over several lines, with what is short on one.
     */
    private static function pretty(mixed $value, string $indent): string
    {
        $short = self::line($value);
        $isNode = $value instanceof \stdClass && BodyNode::of($value)->kind !== null;
        if (! is_array($value) && ! $value instanceof \stdClass || $isNode && strlen($short) <= 100 || is_array($value) && strlen($short) <= 60) {
            return $short;
        }
        $lines = [];
        foreach (is_array($value) ? $value : get_object_vars($value) as $name => $member) {
            $lines[] = "$indent  ".(is_array($value) ? '' : self::line((string) $name).': ').self::pretty($member, "$indent  ");
        }
        [$open, $close] = is_array($value) ? ['[', ']'] : ['{', '}'];

        return $lines === [] ? $open.$close : "$open\n".implode(",\n", $lines)."\n$indent$close";
    }

    private static function line(mixed $value): string
    {
        if ($value instanceof \stdClass) {
            $members = [];
            foreach (get_object_vars($value) as $name => $member) {
                $members[] = self::line((string) $name).': '.self::line($member);
            }

            return '{'.implode(', ', $members).'}';
        }

        return is_array($value) ? '['.implode(', ', array_map(self::line(...), $value)).']' : (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION);
    }

    /**
     * Lists of the tree with one item, which can be written once for each of several records.
     *
     * @param  array<string, mixed>  $body
     * @return list<string> like $.changes
     */
    public static function lists(array $body): array
    {
        if (self::setting($body, 'each') === null) {
            return [];
        }
        $found = [];
        $look = static function (mixed $node, string $path) use (&$look, &$found): void {
            if (is_array($node) && count($node) === 1 && ($node[0] ?? null) instanceof \stdClass) {
                $found[] = $path;
            }
            foreach ($node instanceof \stdClass && BodyNode::of($node)->kind === null ? get_object_vars($node) : [] as $name => $member) {
                preg_match('/^[A-Za-z_]\w*$/D', (string) $name) === 1 && $look($member, "$path.$name");
            }
        };
        $look($body['of'] ?? null, '$');

        return array_values(array_unique([...$found, ...(isset($body['each']) ? [$body['each']] : [])]));
    }

    /**
     * Objects inside the tree, which may be left out whole.
     *
     * @return list<string> paths
     */
    public static function objects(mixed $tree, string $path = '$'): array
    {
        $paths = [];
        foreach ($tree instanceof \stdClass && BodyNode::of($tree)->kind === null ? get_object_vars($tree) : [] as $name => $member) {
            $at = $path.\DeepSpring\Flatten\Proposal\AnswerColumns::step((string) $name);
            if ($member instanceof \stdClass && BodyNode::of($member)->kind === null) {
                $paths = [...$paths, $at, ...self::objects($member, $at)];
            }
        }

        return $paths;
    }

    /**
     * Makes inputs of what varies: of all values, when there is none yet; and of every name that the
     * body has and the endpoint lacks.
     *
     * @param  array<string, mixed>  $ask
     * @return array<string, mixed>
     */
    public static function withInputs(array $ask): array
    {
        if (! isset($ask['body'])) {
            return $ask;
        }
        $names = array_column($ask['inputs'] ?? [], 'name');
        $body = Bodies::of($ask['body']);
        if ($body->inputs() === [] && ! self::isText($ask['body'])) {
            [$made, $inputs] = (new BodyFromSample($names))->of(JsonText::encode($ask['body']['of']), 'application/json');
            if ($made !== null && $inputs !== []) {
                $ask['body'] = ['as' => $ask['body']['as'] ?? 'json', 'of' => $made['of']] + $ask['body'];
                $ask['inputs'] = [...($ask['inputs'] ?? []), ...$inputs];
            }

            return $ask;
        }
        foreach (array_diff($body->inputs(), $names) as $name) {
            $ask['inputs'][] = ['name' => $name, 'in' => 'body'];
        }

        return $ask;
    }

    /**
     * @throws InvalidSourceFile
     */
    private static function tree(string $text): mixed
    {
        try {
            return JsonDecoder::decode(trim($text) === '' ? '{}' : $text);
        } catch (UnreadableAnswer $unreadable) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].ask.body', str_replace('The answer', 'The body', $unreadable->getMessage()))]);
        }
    }
}
