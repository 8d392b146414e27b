<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

/**
 * What the sheet of an endpoint says of earlier states → `keep.history` of a source file.
 */
final readonly class HistoryForm
{
    public const NONE = 'none';

    public const SNAPSHOTS = 'snapshots';

    public const CHANGES = 'changes';

    public const CHOICES = [self::NONE => 'nothing', self::SNAPSHOTS => 'its last states', self::CHANGES => 'every version of every row'];

    /** States that stay where nobody has said how many. */
    private const USUAL = 7;

    /**
     * @param  array<string, mixed>  $form  kind, snapshots, days, rows
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed> the endpoint
     */
    public static function apply(array $form, array $endpoint): array
    {
        $was = $endpoint['keep']['history'] ?? [];
        $kind = is_string($form['kind'] ?? null) ? $form['kind'] : self::kind($was);
        // What is no number stays as it was typed, and is told beside it.
        $number = static function (string $name) use ($form, $was): mixed {
            $typed = is_string($form[$name] ?? null) ? trim($form[$name]) : null;

            return match (true) {
                $typed === null => $was[$name] ?? null, $typed === '' => null, preg_match('/^\d{1,10}$/D', $typed) === 1 => (int) $typed, default => $typed,
            };
        };
        $history = match ($kind) {
            self::SNAPSHOTS => ['snapshots' => $number('snapshots') ?? self::USUAL], self::CHANGES => ['changes' => true], default => [],
        };
        foreach ($history === [] ? [] : ['days', 'rows'] as $name) {
            $history += $number($name) === null ? [] : [$name => $number($name)];
        }
        $keep = array_diff_key($endpoint['keep'] ?? [], ['history' => 1]) + ($history === [] ? [] : ['history' => $history]);

        return $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
    }

    /**
     * @param  array<string, mixed>  $history
     */
    public static function kind(array $history): string
    {
        return match (true) {
            ($history['changes'] ?? false) === true => self::CHANGES, isset($history['snapshots']) => self::SNAPSHOTS, default => self::NONE,
        };
    }
}
