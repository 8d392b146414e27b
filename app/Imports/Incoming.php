<?php

declare(strict_types=1);

namespace App\Imports;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Files;
use DeepSpring\Describe\ImportInput;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;

/**
 * What a form hands in: a paste, one or several files, or an address that is fetched.
 */
final readonly class Incoming
{
    public function __construct(private Fetch $fetch)
    {
    }

    /**
     * @throws CannotDescribe
     */
    public function of(Request $request, bool $fetches): ImportInput
    {
        $text = is_string($request->input('start')) ? trim($request->input('start')) : '';
        $files = [];
        foreach (is_array($request->file('files')) ? $request->file('files') : array_filter([$request->file('file')]) as $upload) {
            if ($upload instanceof UploadedFile && ! $upload->isValid()) {
                throw CannotDescribe::because("{$upload->getClientOriginalName()} did not arrive: {$upload->getErrorMessage()} Larger files can be given to ./spring import.");
            }
            if ($upload instanceof UploadedFile) {
                $files[$upload->getClientOriginalName()] = (string) $upload->get();
            }
        }
        if ($text !== '') {
            return $fetches && preg_match('~^https?://\S+$~i', $text) === 1 ? $this->fetch->get($text) : new ImportInput($text, '', null, new Files($files));
        }
        if ($files === []) {
            throw CannotDescribe::because('Give an address, cURL commands, or a file: OpenAPI, HAR, or a source file.');
        }

        return self::ofFiles($files);
    }

    /**
     * The first that is a description, with the others beside it; source files together.
     *
     * @param  non-empty-array<string, string>  $files
     *
     * @throws CannotDescribe
     */
    public static function ofFiles(array $files): ImportInput
    {
        $names = array_map(strval(...), array_keys($files));
        $sources = array_filter($files, static fn (string $text): bool => preg_match('/^(?:\xEF\xBB\xBF)?\s*(?:#[^\n]*\n\s*|---\s*)*deepspring\s*:/', $text) === 1);
        if (count($sources) > 1) {
            return new ImportInput(implode("\n---\n", $sources), $names[0]);
        }
        foreach ($files as $name => $text) {
            if (str_starts_with($text, "PK\x03\x04")) {
                return ImportArchive::open(new ImportInput($text, (string) $name));
            }
            if (count($files) > 1 && \DeepSpring\Describe\Importers::for(new ImportInput($text, (string) $name)) === null) {
                continue;
            }

            return new ImportInput($text, (string) $name, null, new Files($files));
        }

        return ImportArchive::open(new ImportInput($files[$names[0]], $names[0], null, new Files($files)));
    }
}
