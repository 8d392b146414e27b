<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Increment\Increments;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * How old the newest row may be when the table is read.
 */
final readonly class Newest implements CheckRule
{
    private function __construct(private string $column, private \DateInterval $age, private string $words, private bool $isDay)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('newest', 'no older than', 'How old the newest value of a column may be when the table is read.', [
            new Field('newest', FieldType::Column, 'column', 'Name of a column with moments or days.', isRequired: true, example: 'changed'),
            new Field('no_older_than', FieldType::Duration, 'no older than', 'How old the newest of them may be.', isRequired: true, example: 'P2D'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $column = $table->plainColumn($settings['newest'], 'newest');
        if (! in_array($column->kept->storage(), [Storage::DateTime, Storage::Date], true)) {
            throw InvalidCheck::because('newest', "\"$column->name\" holds no moments. Make it a datetime under Flatten.");
        }
        $age = $settings['no_older_than'] ?? throw InvalidCheck::because('no_older_than', 'Say how old the newest row may be, as P2D for two days.');
        try {
            $words = Increments::words($age);

            return new self($column->name, new \DateInterval($age), $words === '' ? '0 s' : $words, $column->kept->storage() === Storage::Date);
        } catch (\Exception) {
            throw InvalidCheck::because('no_older_than', "\"$age\" is no ISO 8601 duration; P2D is two days, PT6H six hours.");
        }
    }

    public function words(): string
    {
        return "the newest $this->column is no older than $this->words";
    }

    public function isOfRows(): bool
    {
        return false;
    }

    public function columns(): array
    {
        return [$this->column];
    }

    public function broken(Found $found): ?string
    {
        if ($found->newest === null) {
            return "No row of $found->table has a value in $this->column.";
        }
        // A day lasts until its end.
        $newest = new \DateTimeImmutable($found->newest.($this->isDay ? ' 23:59:59.999999' : ''), new \DateTimeZone('UTC'));

        return $newest >= $found->now->sub($this->age) ? null : "The newest $this->column of $found->table is {$this->shown($found->newest)}, older than $this->words.";
    }

    public function held(Found $found): string
    {
        return "The newest is {$this->shown((string) $found->newest)}.";
    }

    private function shown(string $newest): string
    {
        return $this->isDay ? $newest : substr($newest, 0, 19).' UTC';
    }
}
