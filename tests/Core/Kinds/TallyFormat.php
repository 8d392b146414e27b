<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Answer\Format\Format;
use DeepSpring\Answer\Format\Read;
use DeepSpring\Answer\Format\Recognition;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A format that nobody has: a record for each stroke of a tally.
 */
final readonly class TallyFormat implements Format
{
    private function __construct(private string $stroke)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('tally', 'Tally', 'A record for each stroke.', [new Field('stroke', FieldType::Raw, 'stroke', 'The sign of a stroke.', example: '/')]);
    }

    public static function of(array $settings): self
    {
        return new self($settings['stroke'] ?? '|');
    }

    public function recognises(string $type, string $start): Recognition
    {
        return $type === 'text/x-tally' ? Recognition::Named : Recognition::No;
    }

    public function read(string $body, string $charset): Read
    {
        return new Read(array_map(static fn (int $number): object => (object) ['number' => $number], range(1, substr_count($body, $this->stroke))), 'tally', 'strokes', isList: true);
    }
}
