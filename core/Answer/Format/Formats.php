<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;

/**
 * A body → a document, by what the source file says of it, or what it says of itself.
 */
final readonly class Formats
{
    /** Bytes that a packed body may become. */
    public const MOST = 256_000_000;

    /**
     * @param  string  $format  auto, json, ndjson, xml, csv or text
     * @param  array{delimiter?: non-empty-string, quote?: string, header?: bool, encoding?: string}  $csv
     */
    public function __construct(private string $format = 'auto', private array $csv = [])
    {
    }

    /**
     * @param  string  $contentType  the header as it came
     *
     * @throws UnreadableAnswer
     */
    public function read(string $body, string $contentType): Read
    {
        $body = Unpack::of($body, self::MOST);
        $type = strtolower(trim((string) strtok($contentType, ';')));
        $charset = preg_match('/charset\s*=\s*"?([\w-]+)/i', $contentType, $part) === 1 ? strtolower($part[1]) : '';
        $charset = ['latin1' => 'iso-8859-1', 'iso8859-1' => 'iso-8859-1', 'cp1252' => 'windows-1252', 'utf8' => 'utf-8', 'us-ascii' => 'utf-8'][$charset] ?? $charset;
        if ($this->format === 'text') {
            return new Read(Charset::detected($body, $charset)[1], 'text', 'one text');
        }

        return $this->chosen($type, ltrim(substr($body, 0, 400), "\xEF\xBB\xBF \t\r\n"), $body)->read($body, $charset);
    }

    private function chosen(string $type, string $start, string $body): Format
    {
        $all = ['json' => new JsonFormat, 'ndjson' => new NdJsonFormat, 'xml' => new XmlFormat, 'csv' => new CsvFormat($this->csv)];
        if (isset($all[$this->format])) {
            return $all[$this->format];
        }
        // The body itself is surer than what is said of it, where its first sign leaves no doubt.
        if (str_starts_with($start, '<?xml')) {
            return $all['xml'];
        }
        foreach ([$all['ndjson'], $all['xml'], $all['csv'], $all['json']] as $format) {
            if ($format->recognises($type, $start)) {
                return $format;
            }
        }

        return $type === 'text/plain' && preg_match('/^[^\n]*([,;\t|])[^\n]*\n[^\n]*\1/', $body) === 1 ? $all['csv'] : $all['json'];
    }
}
