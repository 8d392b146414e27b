<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\AnswerPart;
use App\Models\Exchange;
use Illuminate\Support\Facades\DB;

/**
 * Keeps a large answer in parts of at most some 256 KB, so that any node of it is read without the
 * rest. A container that is large itself is a part of its own; in its place stands what it is.
 */
final class AnswerParts
{
    /** Bytes from which an answer is kept in parts. */
    public const LARGE = 400_000;

    private const ITEMS = 100;

    private const PART_BYTES = 256_000;

    private const CHILD_BYTES = 100_000;

    /** @var list<array<string, mixed>> */
    private array $rows = [];

    public function store(Exchange $exchange, mixed $document): void
    {
        $this->rows = [];
        $this->walk($exchange->id, $document, []);
        DB::transaction(function (): void {
            foreach (array_chunk($this->rows, 20) as $rows) {
                DB::table('answer_parts')->insert($rows);
            }
        });
        $this->rows = [];
    }

    /**
     * Where the rows of a node are.
     *
     * @param  list<string|int>  $steps
     */
    public static function node(array $steps): string
    {
        return hash('xxh128', (string) json_encode(array_map(strval(...), $steps), JSON_INVALID_UTF8_SUBSTITUTE));
    }

    /**
     * @param  list<string|int>  $steps
     */
    private function walk(int $exchange, mixed $value, array $steps): void
    {
        $children = $value instanceof \stdClass ? get_object_vars($value) : (is_array($value) ? $value : [$value]);
        $kind = $value instanceof \stdClass ? 'object' : (is_array($value) ? 'array' : 'value');
        $items = [];
        $bytes = 0;
        $first = 0;
        $at = 0;
        foreach ($children as $step => $child) {
            $json = (string) json_encode($child, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
            $name = (string) json_encode($kind === 'array' ? $at : (string) $step, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE);
            if (strlen($json) > self::CHILD_BYTES && ($child instanceof \stdClass || is_array($child))) {
                $this->walk($exchange, $child, [...$steps, $kind === 'array' ? $at : (string) $step]);
                $json = (string) json_encode(['count' => is_array($child) ? count($child) : count(get_object_vars($child)), 'array' => is_array($child)]);
                $items[] = "[$name,1,$json]";
            } else {
                $items[] = "[$name,0,$json]";
            }
            $bytes += strlen($json);
            $at++;
            if (count($items) >= self::ITEMS || $bytes >= self::PART_BYTES) {
                $this->row($exchange, $steps, $kind, count($children), $first, $items);
                [$items, $bytes, $first] = [[], 0, $at];
            }
        }
        if ($items !== [] || $children === []) {
            $this->row($exchange, $steps, $kind, count($children), $first, $items);
        }
    }

    /**
     * @param  list<string|int>  $steps
     * @param  list<string>  $items
     */
    private function row(int $exchange, array $steps, string $kind, int $total, int $first, array $items): void
    {
        $this->rows[] = ['exchange_id' => $exchange, 'node' => self::node($steps), 'number' => $total, 'first' => $first, 'content' => gzdeflate('{"kind":"'.$kind.'","items":['.implode(',', $items).']}', 1)];
    }

    public static function has(Exchange $exchange): bool
    {
        return AnswerPart::query()->where('exchange_id', $exchange->id)->exists();
    }
}
