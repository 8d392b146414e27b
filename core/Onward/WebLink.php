<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriResolver;

/**
 * A link of a `Link` header (RFC 8288 §3).
 */
final readonly class WebLink
{
    /**
     * @param  list<string>  $rels  in lower case
     * @param  array<string, string>  $parameters  by name in lower case, the first of each name
     */
    private function __construct(public string $target, public array $rels, public ?string $anchor, public array $parameters)
    {
    }

    /**
     * All links of a header, of which several lines are joined by commas. What cannot be read is
     * left out (RFC 8288 appendix B.2).
     *
     * @return list<self>
     */
    public static function all(string $header): array
    {
        $links = [];
        $at = 0;
        $length = strlen($header);
        while ($at < $length) {
            $at += strspn($header, " \t,", $at);
            if (($header[$at] ?? '') !== '<') {
                // Not a link: to the next comma that is in no quotes.
                $at += self::skip($header, $at, ',');

                continue;
            }
            $end = strpos($header, '>', $at);
            if ($end === false) {
                break;
            }
            $target = trim(substr($header, $at + 1, $end - $at - 1));
            $at = $end + 1;
            $parameters = [];
            while (preg_match('/\G[ \t]*;[ \t]*(?:([!#$%&\'*+.^_`|~0-9A-Za-z-]+)[ \t]*(?:=[ \t]*(?:"((?:[^"\\\\]|\\\\.)*)"|([^\s;,"]*)))?)?/', $header, $part, 0, $at) === 1) {
                $at += strlen($part[0]);
                $name = strtolower($part[1] ?? '');
                if ($name !== '' && ! isset($parameters[$name])) {
                    $parameters[$name] = isset($part[3]) ? $part[3] : stripslashes($part[2] ?? '');
                }
            }
            $links[] = new self($target, preg_split('/\s+/', strtolower(trim($parameters['rel'] ?? '')), -1, PREG_SPLIT_NO_EMPTY) ?: [], $parameters['anchor'] ?? null, $parameters);
            $at += self::skip($header, $at, ',');
        }

        return $links;
    }

    /**
     * Whether it starts from the resource that was asked for (RFC 8288 §3.2): it has no anchor, or
     * one that leads back there.
     */
    public function isAbout(string $uri): bool
    {
        if ($this->anchor === null) {
            return true;
        }
        try {
            $here = new Uri($uri);

            return (string) UriResolver::resolve($here, new Uri($this->anchor))->withFragment('') === (string) $here->withFragment('') && ! str_contains($this->anchor, '#');
        } catch (\InvalidArgumentException) {
            return false;
        }
    }

    /**
     * Bytes up to a mark that stands in no quotes, or to the end.
     */
    private static function skip(string $text, int $from, string $mark): int
    {
        return preg_match('/\G(?:[^"'.$mark.']|"(?:[^"\\\\]|\\\\.)*"?)*/', $text, $part, 0, $from) === 1 ? strlen($part[0]) : strlen($text) - $from;
    }
}
