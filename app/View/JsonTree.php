<?php

declare(strict_types=1);

namespace App\View;

use App\Evidence\Tree\TreeChildren;
use App\Evidence\Tree\TreeNodes;
use App\Evidence\Tree\UnreadContainer;
use DeepSpring\Answer\JsonPath\Location;
use Illuminate\Support\HtmlString;

/**
 * An answer as a tree that is sent as far as it is opened, so that the picture never grows with the
 * answer.
 */
final readonly class JsonTree
{
    /** Children that are sent at once. */
    public const PAGE = 100;

    private const RECORDS = 8;

    /**
     * @param  string  $url  where further nodes are asked for
     * @param  string|null  $recordsPath  the array that holds the records, as a path: `$.data`
     * @param  string|null  $chooseUrl  where a chosen array is sent; null where nothing can be set
     */
    public function __construct(private TreeNodes $nodes, private string $url, private ?string $recordsPath = null, private ?string $chooseUrl = null)
    {
    }

    /**
     * The root, open, and the array of the records, when it is not deep.
     */
    public function html(mixed $root): HtmlString
    {
        if (! is_array($root) && ! $root instanceof \stdClass && ! $root instanceof UnreadContainer) {
            return new HtmlString('<div class="leaf">'.self::scalar($root).'</div>');
        }

        return new HtmlString($this->container($root, [], null));
    }

    /**
     * The children of a node, from one on.
     *
     * @param  list<array{string|int, int}>  $steps
     */
    public function children(array $steps, int $from): HtmlString
    {
        $children = $this->nodes->children($steps, $from, self::PAGE);

        return new HtmlString($children === null ? '<div class="leaf dim">This part of the answer is no longer kept.</div>' : $this->list($children, $steps));
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    public static function path(array $steps): string
    {
        return '$'.implode('', array_map(static fn (array $step): string => is_string($step[0]) && preg_match('/^[A-Za-z_][A-Za-z0-9_]*$/D', $step[0]) === 1 ? ".$step[0]" : Location::step($step[0]), $steps));
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    private function list(TreeChildren $children, array $steps): string
    {
        $html = '';
        foreach ($children->items as $number => [$step, $value]) {
            $html .= $this->node($value, [...$steps, [$step, $children->from + $number]], $step);
        }
        $next = $children->from + count($children->items);
        $rest = $children->total - $next;

        return $rest <= 0 ? $html : $html.'<div class="leaf"><button type="button" class="link" hx-get="'.e($this->link($steps, $next)).'" hx-target="closest .leaf" hx-swap="outerHTML">the next '.Show::number(min(self::PAGE, $rest)).'</button> <span class="dim">of '.Show::number($rest).' more</span></div>';
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    private function node(mixed $value, array $steps, string|int $step): string
    {
        if (is_array($value) || $value instanceof \stdClass || $value instanceof UnreadContainer) {
            return $this->container($value, $steps, $step);
        }

        return '<div class="leaf">'.self::name($step).self::scalar($value).$this->acts($steps).'</div>';
    }

    /**
     * @param  array<array-key, mixed>|\stdClass|UnreadContainer  $value
     * @param  list<array{string|int, int}>  $steps
     */
    private function container(array|\stdClass|UnreadContainer $value, array $steps, string|int|null $step): string
    {
        $isArray = $value instanceof UnreadContainer ? $value->isArray : is_array($value);
        $count = $value instanceof UnreadContainer ? $value->count : count(is_array($value) ? $value : get_object_vars($value));
        $path = self::path($steps);
        $isRecords = $isArray && $path === $this->recordsPath;
        $label = match (true) {
            $isRecords => '<span class="tag g">'.Show::count($count, 'record').'</span>',
            $isArray => '<span class="dim">['.Show::number($count).']</span>',
            default => '<span class="dim">{'.Show::count($count, 'member').'}</span>',
        };
        if ($count === 0) {
            return '<div class="leaf">'.($step === null ? '' : self::name($step)).$label.$this->acts($steps).'</div>';
        }
        $isOpen = $steps === [] || $isRecords && count($steps) < 4;
        $hint = ! $isRecords && $value instanceof \stdClass && $steps !== [] ? ' <span class="dim">'.e(self::glimpse($value)).'</span>' : '';
        $holdsObjects = $isArray && ! $isRecords && ($value instanceof UnreadContainer || is_array($value) && ($value[0] ?? null) instanceof \stdClass);
        $choose = $this->chooseUrl !== null && $holdsObjects && count($steps) < 6
            ? '<button type="button" class="btn small" aria-label="use as the records: '.e($path.'[*]').'" hx-vals="'.e((string) json_encode(['do' => 'records-at', 'at' => $path.'[*]'])).'" hx-post="'.e($this->chooseUrl).'" hx-include="#sheet-form" hx-target="#sheet" hx-swap="outerHTML">use as the records</button>' : '';
        $inside = '';
        if ($isOpen) {
            $children = $this->nodes->children($steps, 0, $isRecords ? self::RECORDS : self::PAGE);
            $inside = $children === null ? '' : $this->list($children, $steps);
        }
        $lazy = $isOpen ? '' : ' hx-get="'.e($this->link($steps, 0)).'" hx-trigger="toggle once" hx-target="find .in" hx-swap="innerHTML"';
        $tree = '<details'.($isOpen ? ' open' : '').$lazy.'><summary>'.($step === null ? '' : self::name($step)).$label.$hint.'</summary><div class="in">'.$inside.'</div></details>';

        // Beside the summary, which must hold nothing else that can be pressed.
        return '<div class="branch">'.$choose.$tree.$this->acts($steps).'</div>';
    }

    /**
     * The handle by which something is done with a node.
     *
     * @param  list<array{string|int, int}>  $steps
     */
    private function acts(array $steps): string
    {
        return ' <button type="button" class="acts" aria-label="What can be done with '.e(self::path($steps)).'" aria-haspopup="true" hx-get="'.e($this->link($steps, 0, true)).'" hx-target="#node-acts" hx-swap="innerHTML" data-acts>⋯</button>';
    }

    /**
     * @param  list<array{string|int, int}>  $steps
     */
    private function link(array $steps, int $from, bool $acts = false): string
    {
        return $this->url.(str_contains($this->url, '?') ? '&' : '?').http_build_query(['at' => (string) json_encode($steps, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE)] + ($from > 0 ? ['from' => $from] : []) + ($acts ? ['acts' => 1] : []));
    }

    private static function name(string|int $step): string
    {
        return '<span class="k">'.e(is_int($step) ? "[$step]" : $step).'</span> ';
    }

    public static function scalar(mixed $value): string
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
                default => mb_strimwidth((string) json_encode(is_string($value) ? mb_strcut($value, 0, 100, 'UTF-8') : $value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), 0, 24, '…', 'UTF-8'),
            };
        }

        return mb_strimwidth(implode(', ', $parts), 0, 90, '…', 'UTF-8');
    }
}
