<?php

declare(strict_types=1);

namespace App\View;

use Illuminate\Support\HtmlString;

/**
 * Markdown that somebody wrote or a page brought along → HTML that does nothing: what is HTML in it is shown
 * as text, links lead only to the web, and what was searched for is marked.
 */
final class Markdown
{
    public static function html(string $text, string $search = ''): HtmlString
    {
        $parser = new \Parsedown;
        $parser->setSafeMode(true);
        $parser->setUrlsLinked(false);
        $html = (string) $parser->text($text);
        $document = new \DOMDocument;
        $before = libxml_use_internal_errors(true);
        $document->loadHTML('<?xml encoding="utf-8"><body>'.$html.'</body>', LIBXML_NONET);
        libxml_clear_errors();
        libxml_use_internal_errors($before);
        $xpath = new \DOMXPath($document);
        foreach ($xpath->query('//a') ?: [] as $link) {
            if ($link instanceof \DOMElement) {
                preg_match('~^https?://~i', $link->getAttribute('href')) === 1 ?: $link->removeAttribute('href');
                $link->setAttribute('target', '_blank');
                $link->setAttribute('rel', 'noopener noreferrer');
            }
        }
        // A picture would be asked for at somebody else's server.
        foreach (iterator_to_array($xpath->query('//img') ?: []) as $picture) {
            $picture->parentNode?->replaceChild($document->createTextNode($picture instanceof \DOMElement ? $picture->getAttribute('alt') : ''), $picture);
        }
        $search === '' ?: self::mark($document, $xpath, $search);
        $body = $document->getElementsByTagName('body')->item(0);
        $shown = '';
        foreach ($body->childNodes ?? [] as $child) {
            $shown .= $document->saveHTML($child);
        }

        return new HtmlString($shown);
    }

    private static function mark(\DOMDocument $document, \DOMXPath $xpath, string $search): void
    {
        foreach (iterator_to_array($xpath->query('//body//text()') ?: []) as $text) {
            $parts = preg_split('/('.preg_quote($search, '/').')/iu', (string) $text->nodeValue, -1, PREG_SPLIT_DELIM_CAPTURE) ?: [];
            if (count($parts) < 2 || $text->parentNode === null) {
                continue;
            }
            foreach ($parts as $number => $part) {
                if ($number % 2 === 1) {
                    $mark = $document->createElement('mark');
                    $mark->appendChild($document->createTextNode($part));
                    $text->parentNode->insertBefore($mark, $text);
                } elseif ($part !== '') {
                    $text->parentNode->insertBefore($document->createTextNode($part), $text);
                }
            }
            $text->parentNode->removeChild($text);
        }
    }
}
