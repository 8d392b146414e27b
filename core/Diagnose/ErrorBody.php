<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

/**
 * What an error answer says in the shapes that APIs use: problem details (RFC 9457), `error` as a
 * text or an object, `errors` as a list of objects or texts or as a member for each field.
 */
final readonly class ErrorBody
{
    private const SENTENCES = [['detail'], ['message'], ['error', 'message'], ['error', 'message', 'value'], ['odata.error', 'message', 'value'], ['odata.error', 'message'], ['error', 'detail'], ['error_description'], ['errors', 0, 'detail'], ['errors', 0, 'message'], ['errors', 0], ['fault', 'faultstring'], ['msg'], ['reason'], ['title'], ['error']];

    /**
     * @param  array<string, string>  $fields  what is said of single fields, by their name
     */
    private function __construct(public ?string $sentence, public array $fields)
    {
    }

    public static function of(string $body): self
    {
        $error = json_decode($body, true, 32);
        if (! is_array($error)) {
            return new self(self::ofXml($body), []);
        }
        $sentence = null;
        foreach (self::SENTENCES as $path) {
            $value = $error;
            foreach ($path as $step) {
                $value = is_array($value) ? $value[$step] ?? null : null;
            }
            if (is_string($value) && trim($value) !== '') {
                $sentence = mb_strimwidth($value, 0, 300, '…', 'UTF-8');
                break;
            }
        }

        return new self($sentence, self::fields($error));
    }

    /**
     * OData 2 and 3 answer errors in XML to whom they do not know: `<error><message>…`.
     */
    private static function ofXml(string $body): ?string
    {
        $isError = preg_match('~<(?:\w+:)?error\b[^>]*>.*?<(?:\w+:)?message\b[^>]*>([^<]+)</~s', substr($body, 0, 20_000), $part) === 1;

        return $isError ? mb_strimwidth(trim(html_entity_decode($part[1], ENT_XML1, 'UTF-8')), 0, 300, '…', 'UTF-8') : null;
    }

    /**
     * @param  array<array-key, mixed>  $error
     * @return array<string, string>
     */
    private static function fields(array $error): array
    {
        $fields = [];
        $candidates = [$error['errors'] ?? null, $error['error']['errors'] ?? null, $error['error']['details'] ?? null, $error['error']['innererror']['errordetails'] ?? null, $error['invalid_params'] ?? null, $error['invalid-params'] ?? null, $error['details'] ?? null, $error['violations'] ?? null, $error['fields'] ?? null, is_array($error['detail'] ?? null) ? $error['detail'] : null];
        foreach ($candidates as $list) {
            foreach (is_array($list) ? $list : [] as $key => $one) {
                $name = is_string($key) ? $key : (is_array($one) ? self::name($one) : null);
                $text = self::text($one);
                if ($name !== null && $text !== null) {
                    $fields[$name] ??= $text;
                }
            }
        }
        $single = self::name($error) ?? (is_array($error['error'] ?? null) ? self::name($error['error']) : null);
        if ($single !== null) {
            $fields[$single] ??= self::text($error) ?? self::text($error['error'] ?? null) ?? 'not accepted';
        }

        return array_slice($fields, 0, 10);
    }

    /**
     * @param  array<array-key, mixed>  $one
     */
    private static function name(array $one): ?string
    {
        foreach (['field', 'param', 'parameter', 'name', 'propertyPath', 'property', 'pointer', 'path', 'loc', 'target', 'propertyref'] as $member) {
            $value = $one[$member] ?? null;
            $value = is_array($value) ? implode('.', array_filter($value, is_scalar(...))) : $value;
            if (is_string($value) && $value !== '') {
                return trim(str_replace('/', '.', $value), '.#$');
            }
        }
        $source = $one['source']['pointer'] ?? $one['source']['parameter'] ?? null;

        return is_string($source) ? trim(str_replace('/', '.', $source), '.#') : null;
    }

    private static function text(mixed $one): ?string
    {
        if (is_array($one)) {
            foreach (['message', 'detail', 'reason', 'problem', 'msg', 'description', 'title', 'error', 0] as $member) {
                if (is_string($one[$member] ?? null)) {
                    return mb_strimwidth($one[$member], 0, 200, '…', 'UTF-8');
                }
            }

            return null;
        }

        return is_string($one) ? mb_strimwidth($one, 0, 200, '…', 'UTF-8') : null;
    }
}
