<?php

declare(strict_types=1);

namespace App\View;

use DeepSpring\Answer\JsonPath\Location;
use Illuminate\Support\HtmlString;

/**
 * An answer as a tree that folds. Long arrays show their first elements; the picture never grows
 * with the answer.
 */
final class JsonTree
{
    private const ELEMENTS = 6;

    private const MEMBERS = 200;

    private int $left = 1500;

    /**
     * @param  string|null  $recordsPath  the array that holds the records, as a path: `$.data`
     * @param  string  $chooseUrl  where a chosen array is sent
     */
    public function __construct(private readonly ?string $recordsPath, private readonly string $chooseUrl)
    {
    }

    public function html(mixed $document): HtmlString
    {
        return new HtmlString($this->node($document, '$', null, 0));
    }

    private function node(mixed $value, string $path, string|int|null $name, int $depth): string
    {
        $this->left--;
        $key = $name === null ? '' : '<span class="k">'.e(is_int($name) ? "[$name]" : $name).'</span> ';
        if (! is_array($value) && ! is_object($value)) {
            return '<div class="leaf">'.$key.self::scalar($value).'</div>';
        }
        $children = is_array($value) ? $value : get_object_vars($value);
        $count = count($children);
        $isRecords = is_array($value) && $path === $this->recordsPath;
        $label = is_array($value)
            ? ($isRecords ? '<span class="tag g">'.Show::count($count, 'record').'</span>' : '<span class="dim">['.Show::number($count).']</span>')
            : '<span class="dim">{'.Show::count($count, 'member').'}</span>';
        $choose = is_array($value) && ! $isRecords && $count > 0 && is_object($value[0] ?? null) && $depth < 6
            ? '<button type="button" class="btn small" aria-label="use as the records: '.e($path.'[*]').'" name="records_choice" value="'.e($path.'[*]').'" hx-post="'.e($this->chooseUrl).'" hx-include="#sheet-form" hx-target="#sheet" hx-swap="outerHTML">use as the records</button>' : '';
        $open = $depth < 1 || ($isRecords && $depth < 4) ? ' open' : '';
        $hint = $depth > 0 && ! $isRecords && is_object($value) ? ' <span class="dim">'.e(self::glimpse($value)).'</span>' : '';
        if ($count === 0 || $this->left <= 0) {
            return '<div class="leaf">'.$key.$label.($count > 0 ? ' <span class="dim">…</span>' : '').'</div>';
        }
        $most = is_array($value) ? self::ELEMENTS : self::MEMBERS;
        $html = '';
        foreach (array_slice($children, 0, $most, true) as $step => $child) {
            $step = is_array($value) ? (int) $step : (string) $step;
            $html .= $this->node($child, $path.self::step($step), $step, $depth + 1);
        }
        $rest = $count - $most;

        $tree = "<details$open><summary>$key$label$hint</summary><div>$html".($rest > 0 ? '<div class="leaf dim">and '.Show::number($rest).' more</div>' : '').'</div></details>';

        return $choose === '' ? $tree : "<div class=\"pick\">$choose$tree</div>";
    }

    private static function step(string|int $step): string
    {
        return is_string($step) && preg_match('/^[A-Za-z_][A-Za-z0-9_]*$/D', $step) === 1 ? ".$step" : Location::step($step);
    }

    private static function scalar(mixed $value): string
    {
        if (is_string($value)) {
            $short = mb_strimwidth($value, 0, 160, '…', 'UTF-8');

            return '<span class="t">'.e((string) json_encode($short, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE)).'</span>';
        }

        return e((string) json_encode($value, JSON_PRESERVE_ZERO_FRACTION));
    }

    /**
     * The first members of an object in one line.
     */
    private static function glimpse(object $object): string
    {
        $parts = [];
        foreach (array_slice(get_object_vars($object), 0, 5, true) as $name => $value) {
            $parts[] = "$name: ".match (true) {
                is_array($value) => '['.count($value).']',
                is_object($value) => '{'.count(get_object_vars($value)).'}',
                default => mb_strimwidth((string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), 0, 24, '…', 'UTF-8'),
            };
        }

        return mb_strimwidth(implode(', ', $parts), 0, 90, '…', 'UTF-8');
    }
}
