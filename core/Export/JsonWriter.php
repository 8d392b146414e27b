<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * One array of objects, a row a line (RFC 8259), or an object a line (NDJSON). Whole numbers are JSON numbers
 * where 53 bits hold them; all other numbers are texts, so that no reader loses a digit.
 */
final class JsonWriter implements ExportWriter
{
    private const FLAGS = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE;

    /** @var resource */
    private $file;

    private string $before;

    /** @var list<string> names as JSON, with a colon */
    private array $names = [];

    /** @var list<bool> */
    private array $isNumber = [];

    public function __construct(string $path, private readonly bool $isLines)
    {
        $this->file = fopen($path, 'wb') ?: throw CannotExport::because('The file cannot be written.');
        $this->before = $isLines ? '' : "[\n";
    }

    public function begin(array $columns): void
    {
        foreach ($columns as $column) {
            $this->names[] = json_encode($column->name, self::FLAGS).':';
            $this->isNumber[] = $column->type->isNumber();
        }
    }

    public function row(array $values): void
    {
        $members = [];
        foreach ($values as $place => $value) {
            $members[] = $this->names[$place].match (true) {
                $value === null => 'null',
                $this->isNumber[$place] && preg_match('/^-?\d{1,15}$/D', $value) === 1 => $value,
                default => (string) json_encode($value, self::FLAGS),
            };
        }
        fwrite($this->file, $this->before.'{'.implode(',', $members).'}'.($this->isLines ? "\n" : ''));
        $this->before = $this->isLines ? '' : ",\n";
    }

    public function end(): void
    {
        fwrite($this->file, $this->isLines ? '' : ($this->before === "[\n" ? "[]\n" : "\n]\n"));
        fclose($this->file);
    }

    public function said(): array
    {
        return [];
    }
}
