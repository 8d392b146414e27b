<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Value\Kind\Kind;

/**
 * A description that nobody writes: an address after the word "Postcard".
 */
final class PostcardImporter implements Importer
{
    public static function kind(): Kind
    {
        return new Kind('postcard', 'Postcard', 'An address on a postcard.');
    }

    public function recognises(ImportInput $given): bool
    {
        return str_starts_with($given->text, 'Postcard ');
    }

    public function read(ImportInput $given): array
    {
        return [new Described('postcard', 'Postcard', [substr($given->text, 9)], [], [], [], [], [])];
    }
}
