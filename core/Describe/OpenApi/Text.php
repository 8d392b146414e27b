<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Value\BeyondBounds;
use Symfony\Component\Yaml\Exception\ParseException;

/**
 * JSON or YAML as it is found in the wild → arrays. What is wrong in small ways is mended and listed.
 */
final class Text
{
    private const MOST_MENDS = 100;

    private const STRING = '"(?:[^"\\\\]++|\\\\.)*+"';

    /** @var list<ImportNotice> */
    public array $mends = [];

    /**
     * @return array<array-key, mixed>
     *
     * @throws CannotDescribe
     */
    public function read(string $text, string $name = ''): array
    {
        if (str_starts_with($text, "\xEF\xBB\xBF")) {
            $text = substr($text, 3);
            $this->mends[] = ImportNotice::mended($name, 'A byte order mark stood before the text.');
        }
        if (! mb_check_encoding($text, 'UTF-8')) {
            $text = mb_convert_encoding($text, 'UTF-8', 'Windows-1252');
            $this->mends[] = ImportNotice::mended($name, 'The text was not UTF-8; it was read as Windows-1252.');
        }
        $isJson = in_array(ltrim($text)[0] ?? '', ['{', '['], true);
        $document = $isJson ? $this->json($text, $name) : $this->yaml($text, $name);
        if (! is_array($document)) {
            throw CannotDescribe::because('The file holds no object.');
        }

        return $document;
    }

    private function json(string $text, string $name): mixed
    {
        $document = json_decode($text, true, 512, JSON_BIGINT_AS_STRING);
        if (json_last_error() !== JSON_ERROR_NONE) {
            $reason = json_last_error_msg();
            // Commas before a closing bracket, and comments: what an editor lets pass.
            $mended = (string) preg_replace('/('.self::STRING.')|\/\/[^\n]*|\/\*.*?\*\/|,(?=\s*[}\]])/s', '$1', $text);
            $document = json_decode($mended, true, 512, JSON_BIGINT_AS_STRING);
            if (json_last_error() !== JSON_ERROR_NONE) {
                // An object of YAML looks like one of JSON.
                try {
                    return (new Yaml)->parse($text);
                } catch (ParseException|BeyondBounds) {
                    throw CannotDescribe::because("The file is not JSON: $reason.");
                }
            }
            $this->mends[] = ImportNotice::mended($name, 'Commas before a closing bracket, or comments, were taken out; JSON has none.');
            $text = $mended;
        }
        $this->duplicates($text);

        return $document;
    }

    /**
     * Members that occur twice in an object: a decoder keeps the last without a word.
     */
    private function duplicates(string $text): void
    {
        $stack = [];
        $names = [];
        $path = [];
        $at = 0;
        $length = strlen($text);
        $last = null;
        while ($at < $length) {
            $at += strcspn($text, '{}[]":,', $at);
            $char = $text[$at] ?? '';
            if ($char === '"') {
                $end = $at + 1;
                while (($end += strcspn($text, '"\\', $end)) < $length && $text[$end] === '\\') {
                    $end += 2;
                }
                $last = [$at, $end];
                $at = $end + 1;

                continue;
            }
            if ($char === '{' || $char === '[') {
                $stack[] = $char;
                $names[] = [];
                $path[] = '';
            } elseif ($char === '}' || $char === ']') {
                array_pop($stack);
                array_pop($names);
                array_pop($path);
            } elseif ($char === ':' && $last !== null && end($stack) === '{') {
                $key = substr($text, $last[0] + 1, $last[1] - $last[0] - 1);
                $depth = count($stack) - 1;
                if (isset($names[$depth][$key]) && count($this->mends) < self::MOST_MENDS) {
                    $this->mends[] = ImportNotice::mended(implode('.', array_filter(array_slice($path, 0, $depth), static fn (string $step): bool => $step !== '')).".$key", "\"$key\" occurs twice; the last one counts.");
                }
                $names[$depth][$key] = true;
                $path[$depth] = $key;
            }
            $last = null;
            $at++;
        }
    }

    private function yaml(string $text, string $name): mixed
    {
        if (preg_match('/^[ ]*\t/m', $text) === 1) {
            $text = (string) preg_replace_callback('/^[ \t]+/m', static fn (array $part): string => str_replace("\t", '  ', $part[0]), $text);
            $this->mends[] = ImportNotice::mended($name, 'Lines were indented with tabs, which YAML does not allow; two blanks were put for each.');
        }
        $lines = null;
        for ($round = 0; $round < 200; $round++) {
            try {
                return (new Yaml)->parse($lines === null ? $text : implode("\n", $lines));
            } catch (BeyondBounds $beyond) {
                throw CannotDescribe::because("The file is not read: {$beyond->getMessage()}");
            } catch (ParseException $fault) {
                $lines ??= explode("\n", $text);
                if (! $this->mendLine($lines, $fault)) {
                    throw CannotDescribe::because('The file is not YAML: '.rtrim((string) preg_replace('/ at line \d+.*$/s', '', $fault->getMessage()), '.').($fault->getParsedLine() > 0 ? ', line '.$fault->getParsedLine() : '').'.');
                }
            }
        }

        throw CannotDescribe::because('The file has more than 200 lines that are not YAML.');
    }

    /**
     * @param  list<string>  $lines
     */
    private function mendLine(array &$lines, ParseException $fault): bool
    {
        $at = $fault->getParsedLine() - 1;
        if (preg_match('/Duplicate key "(.*?)" detected/', $fault->getMessage(), $part) === 1) {
            for ($line = min(max($at, 0), count($lines) - 1); $line >= 0; $line--) {
                if (preg_match('/^(\s*(?:- )?)(["\']?)'.preg_quote($part[1], '/').'\2\s*:/', $lines[$line], $found) === 1) {
                    $lines[$line] = $found[1].'x-twice-'.$line.substr($lines[$line], strlen($found[1]) + strlen($found[2]) * 2 + strlen($part[1]));
                    $this->mends[] = ImportNotice::mended('line '.($line + 1), "\"$part[1]\" occurs twice; the first one counts.");

                    return true;
                }
            }
        }
        // A parser may look at the next line before it sees what is wrong with this one.
        while ($at > 0 && trim($lines[$at] ?? '') === '') {
            $at--;
        }
        if (isset($lines[$at]) && preg_match('/^(\s*(?:- )?[\w.-]+:\s+)([^\'"|>\[{&*#\s].*)$/', $lines[$at], $part) === 1 && ! str_starts_with($part[2], "'")) {
            $lines[$at] = $part[1]."'".str_replace("'", "''", rtrim($part[2]))."'";
            $this->mends[] = ImportNotice::mended('line '.($at + 1), 'The text needs quotes in YAML, since it holds a sign with a meaning of its own.');

            return true;
        }

        return false;
    }
}
