<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Onward\Detect\Detector;
use DeepSpring\Onward\Detect\FirstAnswer;

/**
 * What the first answer says about how to get the rest, when the way that was set does not work.
 */
final class Hints
{
    /**
     * @param  (\Closure(array<string, mixed>): bool)|null  $isRefuted  whether a way is known not to work
     * @return string|null a sentence; null when the answer suggests nothing else
     */
    public static function other(Page $first, OnwardDefinition $onward, ?\Closure $isRefuted = null): ?string
    {
        $link = self::inLinks($first);
        foreach ((new Detector)->propose(new FirstAnswer('GET', $first->uri, $first->status, $first->headers, $first->document)) as $proposal) {
            if ($isRefuted !== null && $isRefuted($proposal->onward)) {
                continue;
            }
            $name = $proposal->onward['send_as'] ?? null;
            if ($name !== null && $name !== $onward->sendAs) {
                return "The response suggests the parameter \"$name\": {$proposal->reason}";
            }
            if ($name === null && $proposal->onward['style'] !== $onward->style) {
                $carries = $link === null || $link === $onward->sendAs ? '' : " That address carries \"$link\".";

                return 'The response suggests "'.(Pagers::family()->kind($proposal->onward['style'])->title ?? $proposal->onward['style'])."\": {$proposal->reason}$carries";
            }
        }

        return null;
    }

    /**
     * The parameter by which a link in the answer goes to page 2.
     */
    private static function inLinks(Page $first): ?string
    {
        $text = ($first->headers['link'] ?? '').' '.json_encode($first->document, JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR);

        return preg_match('/[?&]((?:page|p|pg|offset|skip|start|after|cursor)[\w-]*)=[^&"\s>]+/i', $text, $part) === 1 ? $part[1] : null;
    }
}
