<?php

declare(strict_types=1);

namespace App\Http\Sources;

use DeepSpring\SourceFile\Fault;

/**
 * What the sheet of a source sends → the `source` of a source file. What the form does not show
 * stays as the document has it.
 */
final readonly class SourceForm
{
    /**
     * @param  array<string, mixed>  $source  as the document has it
     */
    public function __construct(private array $source)
    {
    }

    /**
     * @param  array<string, mixed>  $form
     * @return array<string, mixed>
     */
    public function apply(array $form): array
    {
        $source = $this->source;
        if (! array_key_exists('bases', $form)) {
            // Whatever this is, it is not the sheet, and nothing of the sheet is to be read from it.
            return $source;
        }
        $source['name'] = self::text($form, 'name') ?: $source['name'];
        $source['environments'] = $this->environments($form);
        $source['access'] = $this->access(is_array($form['access'] ?? null) ? $form['access'] : []);
        $headers = [];
        foreach (is_array($form['headers'] ?? null) ? $form['headers'] : [] as $row) {
            if (is_array($row) && self::text($row, 'name') !== '') {
                $headers[self::text($row, 'name')] = SchemeFields::parsed(self::text($row, 'value')) ?? '';
            }
        }
        $source['headers'] = $headers;
        if (array_key_exists('per_minute', $form) && self::text($form, 'per_minute') === '') {
            unset($source['pace']['per_minute']);
        }
        foreach (['per_minute' => null, 'at_once' => 4, 'timeout' => 30, 'tries' => 5, 'patience' => ($source['pace']['tries'] ?? 5) === 1 ? 0 : 180] as $name => $default) {
            $given = self::whole($form, $name);
            if ($given !== null && $given !== ($source['pace'][$name] ?? $default)) {
                $source['pace'][$name] = $given;
            }
        }
        if (array_key_exists('test', $form)) {
            $source['test'] = array_filter(['endpoint' => self::text($form, 'test')], static fn (string $slug): bool => $slug !== '')
                + (self::text($form, 'second_page') === '' && isset($form['second_page_shown']) ? ['second_page' => false] : []);
        }

        return array_filter($source, static fn (mixed $value): bool => $value !== []);
    }

    /**
     * Address and variables of one environment for another. Secrets are none of them.
     *
     * @param  array<string, mixed>  $source
     * @return array<string, mixed>
     */
    public static function copied(array $source, string $from, string $to): array
    {
        if (isset($source['environments'][$from])) {
            $source['environments'][$to] = $source['environments'][$from];
        }

        return $source;
    }

    /**
     * A scheme changes places with the one before it: they are applied in their order.
     *
     * @param  array<string, mixed>  $source
     * @return array<string, mixed>
     */
    public static function earlier(array $source, int $number): array
    {
        if ($number > 0 && isset($source['access'][$number])) {
            [$source['access'][$number - 1], $source['access'][$number]] = [$source['access'][$number], $source['access'][$number - 1]];
        }

        return $source;
    }

    /**
     * Faults of a document that belong to one field of a form.
     *
     * @param  list<Fault>  $faults
     * @return list<string>
     */
    public static function faultsAt(array $faults, string $prefix): array
    {
        return array_values(array_map(static fn (Fault $fault): string => $fault->message, array_filter($faults, static fn (Fault $fault): bool => str_starts_with($fault->path, $prefix))));
    }

    /**
     * @param  array<string, mixed>  $form
     * @return array<string, mixed>
     */
    private function environments(array $form): array
    {
        $environments = [];
        foreach (is_array($form['bases'] ?? null) ? $form['bases'] : [] as $slug => $base) {
            $base = is_string($base) ? trim($base) : '';
            if ($base !== '') {
                $environments[(string) $slug] = ['base' => $base] + ($this->source['environments'][$slug] ?? []);
            }
        }
        $of = self::text($form, 'variables_of');
        if ($of !== '' && isset($environments[$of])) {
            $variables = [];
            foreach (is_array($form['variables'] ?? null) ? $form['variables'] : [] as $row) {
                if (is_array($row) && self::text($row, 'name') !== '') {
                    $variables[self::text($row, 'name')] = self::text($row, 'value');
                }
            }
            $environments[$of] = ['base' => $environments[$of]['base']] + ($variables === [] ? [] : ['variables' => $variables]);
        }

        return $environments;
    }

    /**
     * @param  array<array-key, mixed>  $rows
     * @return list<array<string, mixed>>
     */
    private function access(array $rows): array
    {
        $access = [];
        foreach ($rows as $row) {
            $scheme = is_array($row) ? self::text($row, 'scheme') : '';
            if (is_array($row) && SchemeFields::fresh($scheme) !== null) {
                $was = self::text($row, 'was');
                $access[] = SchemeFields::entry($scheme, $row, $was === '' ? [] : ($this->source['access'][(int) $was] ?? []));
            }
        }

        return $access;
    }

    /**
     * @param  array<array-key, mixed>  $form
     */
    private static function text(array $form, string $name): string
    {
        return is_string($form[$name] ?? null) ? trim($form[$name]) : '';
    }

    /**
     * @param  array<string, mixed>  $form
     */
    private static function whole(array $form, string $name): ?int
    {
        $value = self::text($form, $name);

        return preg_match('/^\d{1,6}$/D', $value) === 1 ? (int) $value : null;
    }
}
