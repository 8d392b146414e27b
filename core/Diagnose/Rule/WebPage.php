<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;

/**
 * HTML where JSON was expected: a sign-in page, the page of a proxy, or the website beside the API.
 */
final readonly class WebPage implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        if (! $situation->isSuccess() || ! $situation->isHtml()) {
            return null;
        }
        preg_match('/<title[^>]*>([^<]{1,200})/i', substr($situation->body, 0, 20000), $found);
        $title = trim(html_entity_decode($found[1] ?? '', ENT_QUOTES | ENT_HTML5, 'UTF-8'));
        $named = $title === '' ? '.' : ": \"$title\".";
        $evidence = array_values(array_filter(["content-type: {$situation->header('content-type')}", $title, $situation->header('via') === '' ? '' : "via: {$situation->header('via')}"]));
        if (preg_match('/type\s*=\s*["\']?password|sign[- ]?in|log[- ]?in|single sign-on/i', $situation->body) === 1) {
            return new Diagnosis('html-sign-in', "The answer is a sign-in page, not JSON$named", 'A sign-in page for people probably answered instead of the API. Check the base address, which is often another host or path than the website, and who is asking.', 'address', Sureness::Likely, $evidence);
        }
        if (preg_match('/captive portal|web filter|blocked by|proxy|gateway|firewall|checking your browser/i', $title.' '.strip_tags(substr($situation->body, 0, 20000))) === 1) {
            return new Diagnosis('html-proxy', "The answer is the page of a proxy or filter, not JSON$named", 'It stands between here and the service. Whoever runs it can let requests from this server through.', 'address', Sureness::Likely, $evidence);
        }

        return new Diagnosis('html', "The answer is a web page, not JSON$named", 'A website probably answered instead of the API. Check the base address: APIs often live under another host or path than the website.', 'address', Sureness::Likely, $evidence);
    }
}
