<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\Type\DateTimeType;
use DeepSpring\Flatten\Type\DateType;

/**
 * Finds the leaves of documents again in what they became.
 */
final class LeafFinder
{
    /** @var array<array-key, true> cells as they are */
    private array $cells = [];

    /** All that holds several leaves at once. */
    private string $text = '';

    private string $rejects = '';

    public function __construct(RowBatch $batch)
    {
        foreach ($batch->rows as $rows) {
            foreach ($rows as $row) {
                foreach ($row as $cell) {
                    if ($cell !== null) {
                        $this->cells[$cell] = true;
                        $this->text .= "$cell\n";
                    }
                }
            }
        }
        foreach ($batch->rejects as $reject) {
            $this->rejects .= $reject->value."\n";
        }
    }

    /**
     * @return string|null cells, or rejects; null where it is lost
     */
    public function find(string|int|float $leaf): ?string
    {
        $written = is_string($leaf) ? $leaf : (string) json_encode($leaf);
        if (isset($this->cells[$written])) {
            return 'cells';
        }
        foreach ([new DateTimeType, new DateTimeType('epoch'), new DateType('dd.MM.yyyy')] as $type) {
            $form = $type->convert($leaf);
            if (is_string($form) && isset($this->cells[$form])) {
                return 'cells';
            }
        }
        foreach ([$written, trim((string) json_encode($leaf, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), '"')] as $form) {
            if (str_contains($this->text, $form)) {
                return 'cells';
            }
            if (str_contains($this->rejects, $form)) {
                return 'rejects';
            }
        }

        return null;
    }
}
