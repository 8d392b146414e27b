<?php

declare(strict_types=1);

namespace App\Http\Editing;

use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;

/**
 * What a form sent, field by field. Whatever is not a text counts as empty.
 */
final readonly class Asked
{
    public function __construct(private Request $request)
    {
    }

    /**
     * Without blanks at its ends.
     */
    public function text(string $name): string
    {
        return trim($this->raw($name));
    }

    public function raw(string $name): string
    {
        $value = $this->request->input($name);

        return is_string($value) ? $value : '';
    }

    /**
     * Whole and not negative; 0 where it is neither.
     */
    public function number(string $name): int
    {
        return preg_match('/^\d{1,9}$/D', $this->text($name)) === 1 ? (int) $this->text($name) : 0;
    }

    /**
     * What an uploaded file holds; null without one.
     */
    public function file(string $name): ?string
    {
        $file = $this->request->file($name);

        return $file instanceof UploadedFile ? (string) $file->get() : null;
    }
}
