<?php

declare(strict_types=1);

namespace DeepSpring\Docs;

/**
 * A web page → Markdown (CommonMark 0.31, with tables): headings, paragraphs, lists, tables, code and links.
 * What runs, decorates or leads around the site is left out, and so are pictures.
 */
final class HtmlText
{
    private const LEFT_OUT = ['script', 'style', 'nav', 'footer', 'form', 'svg', 'noscript', 'iframe', 'object', 'template', 'button', 'select', 'input', 'textarea', 'head', 'aside', 'dialog', 'img', 'picture', 'video', 'audio', 'canvas'];

    private const BLOCKS = ['p', 'div', 'section', 'article', 'main', 'body', 'html', 'blockquote', 'header', 'figure', 'figcaption', 'details', 'summary', 'dl', 'dd', 'address', 'tbody', 'center'];

    private const DEEPEST = 200;

    private function __construct(private readonly string $address)
    {
    }

    /**
     * @param  string  $address  that relative links are relative to; empty when it is not known
     * @return array{title: string, text: string}
     */
    public static function of(string $html, string $address = ''): array
    {
        $document = new \DOMDocument;
        $before = libxml_use_internal_errors(true);
        $document->loadHTML('<?xml encoding="utf-8">'.mb_scrub($html, 'UTF-8'), LIBXML_NONET | LIBXML_COMPACT);
        libxml_clear_errors();
        libxml_use_internal_errors($before);
        $find = static fn (string $name): ?\DOMElement => ($one = $document->getElementsByTagName($name)->item(0)) instanceof \DOMElement ? $one : null;
        $root = $find('main') ?? $find('article') ?? $find('body') ?? $document->documentElement;
        $page = new self($address);
        $text = $root === null ? '' : $page->blocks($root, 0);
        $title = $page->flat($find('title')->textContent ?? $find('h1')->textContent ?? '');

        return ['title' => mb_substr($title, 0, 190), 'text' => trim((string) preg_replace(["/[ \t]+\n/", "/\n{3,}/"], ["\n", "\n\n"], $text))];
    }

    /**
     * Whether a text is HTML rather than Markdown or plain.
     */
    public static function isHtml(string $text): bool
    {
        return preg_match('~<(?:!doctype|html|body|h[1-6]|p|table|pre|div|ul|ol|section)\b[^>]*>~i', substr($text, 0, 5000)) === 1;
    }

    private function blocks(\DOMNode $node, int $depth): string
    {
        $text = '';
        $line = '';
        foreach ($node->childNodes as $child) {
            $block = $depth > self::DEEPEST ? null : $this->block($child, $depth);
            if ($block === null) {
                $line .= $this->inline($child, $depth);

                continue;
            }
            $text .= trim($line) === '' ? '' : trim($line)."\n\n";
            $line = '';
            $text .= $block;
        }

        return $text.(trim($line) === '' ? '' : trim($line)."\n\n");
    }

    /**
     * Null for what stands in a line.
     */
    private function block(\DOMNode $node, int $depth): ?string
    {
        if ($node instanceof \DOMComment || $node instanceof \DOMProcessingInstruction) {
            return '';
        }
        if (! $node instanceof \DOMElement) {
            return null;
        }
        $name = strtolower($node->tagName);

        return match (true) {
            in_array($name, self::LEFT_OUT, true), $node->getAttribute('role') === 'navigation', $node->hasAttribute('hidden') => '',
            preg_match('/^h([1-6])$/', $name, $part) === 1 => trim($this->line($node, $depth)) === '' ? '' : str_repeat('#', (int) $part[1]).' '.trim($this->line($node, $depth))."\n\n",
            $name === 'pre' => $this->code($node),
            $name === 'table' => $this->table($node, $depth),
            $name === 'ul', $name === 'ol' => $this->list($node, $depth, $name === 'ol'),
            $name === 'dt' => '**'.trim($this->line($node, $depth))."**\n\n",
            $name === 'hr' => "---\n\n",
            in_array($name, self::BLOCKS, true) => $this->blocks($node, $depth + 1),
            default => null,
        };
    }

    private function inline(\DOMNode $node, int $depth): string
    {
        if ($node instanceof \DOMText) {
            return self::escaped((string) preg_replace('/\s+/u', ' ', $node->data));
        }
        if (! $node instanceof \DOMElement || $depth > self::DEEPEST || in_array(strtolower($node->tagName), self::LEFT_OUT, true)) {
            return '';
        }
        $inside = $this->line($node, $depth + 1);
        $name = strtolower($node->tagName);
        if (in_array($name, ['code', 'kbd', 'samp', 'tt', 'var'], true)) {
            $code = $this->flat($node->textContent);
            $ticks = str_contains($code, '`') ? '``' : '`';

            return $code === '' ? '' : ($ticks === '``' ? "`` $code ``" : "`$code`");
        }

        return match (true) {
            $name === 'br' => "\n",
            trim($inside) === '' => $inside,
            in_array($name, ['strong', 'b'], true) => '**'.trim($inside).'**',
            in_array($name, ['em', 'i'], true) => '*'.trim($inside).'*',
            $name === 'a' => $this->link($node, trim($inside)),
            default => $inside,
        };
    }

    private function line(\DOMNode $node, int $depth): string
    {
        $line = '';
        foreach ($node->childNodes as $child) {
            $line .= $this->inline($child, $depth);
        }

        return $line;
    }

    private function link(\DOMElement $node, string $inside): string
    {
        $to = trim($node->getAttribute('href'));
        try {
            $to = $this->address === '' ? $to : (string) \GuzzleHttp\Psr7\UriResolver::resolve(new \GuzzleHttp\Psr7\Uri($this->address), new \GuzzleHttp\Psr7\Uri($to));
        } catch (\InvalidArgumentException) {
            return $inside;
        }

        return preg_match('~^https?://[^\s()<>]+$~i', $to) === 1 && ! str_starts_with($node->getAttribute('href'), '#') ? "[$inside]($to)" : $inside;
    }

    private function code(\DOMElement $node): string
    {
        $inner = $node->getElementsByTagName('code')->item(0);
        $class = $node->getAttribute('class').' '.($inner instanceof \DOMElement ? $inner->getAttribute('class') : '');
        $language = preg_match('/\b(?:language|lang|highlight)-([a-z0-9]+)/i', $class, $part) === 1 ? strtolower($part[1]) : '';
        $code = trim(str_replace("\r", '', $node->textContent), "\n");
        $fence = str_contains($code, '```') ? '~~~~' : '```';

        return trim($code) === '' ? '' : "$fence$language\n$code\n$fence\n\n";
    }

    private function list(\DOMElement $node, int $depth, bool $isNumbered): string
    {
        $text = '';
        $number = 1;
        foreach ($node->childNodes as $item) {
            if ($item instanceof \DOMElement && strtolower($item->tagName) === 'li') {
                $mark = $isNumbered ? $number++.'. ' : '- ';
                $inside = (string) preg_replace("/\n{2,}(?=\s*(?:- |\d+\. ))/", "\n", trim($this->blocks($item, $depth + 1)));
                $text .= $mark.str_replace("\n", "\n".str_repeat(' ', strlen($mark)), $inside)."\n";
            }
        }

        return $text === '' ? '' : "$text\n";
    }

    private function table(\DOMElement $node, int $depth): string
    {
        $rows = [];
        foreach ($node->getElementsByTagName('tr') as $row) {
            $cells = [];
            $isHead = $rows === [] && $row->getElementsByTagName('td')->length === 0;
            foreach ($row->childNodes as $cell) {
                if ($cell instanceof \DOMElement && in_array(strtolower($cell->tagName), ['td', 'th'], true)) {
                    $cells[] = str_replace('|', '\|', $this->flat($this->line($cell, $depth + 1) ?: $this->flat($this->blocks($cell, $depth + 1))));
                }
            }
            if ($cells !== []) {
                // A table in Markdown has a head, which stays empty where there is none.
                array_push($rows, ...($rows === [] && ! $isHead ? [[]] : []), ...[$cells]);
            }
        }
        if ($rows === []) {
            return '';
        }
        $width = max(array_map(count(...), $rows));
        $lines = array_map(static fn (array $cells): string => '| '.implode(' | ', array_pad($cells, $width, '')).' |', $rows);

        return implode("\n", [$lines[0], '|'.str_repeat(' --- |', $width), ...array_slice($lines, 1)])."\n\n";
    }

    private function flat(string $text): string
    {
        return trim((string) preg_replace('/\s+/u', ' ', $text));
    }

    private static function escaped(string $text): string
    {
        return (string) preg_replace('/([\\\\`*_\[\]<>#])/', '\\\\$1', $text);
    }
}
