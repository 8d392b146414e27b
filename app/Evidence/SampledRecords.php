<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use DeepSpring\Answer\RecordPage;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * The records that are looked at to propose columns and to show what becomes of them.
 */
final class SampledRecords
{
    public const MOST = 2000;

    /**
     * Records of all pages of the last try that succeeded; of the sample where there is none.
     */
    public static function of(Endpoint $row, EndpointDefinition $definition, Environment $environment): RecordPage
    {
        $answer = $definition->answer();
        $try = $row->lastTry($environment);
        $found = [];
        $count = 0;
        $pages = $try?->exchanges()->where('purpose', 'request')->whereIn('status', [...$answer->ok, ...(($definition->endpoint['onward']['style'] ?? '') === 'range' ? [206] : [])])->orderBy('number')->get(Exchange::LIGHT);
        foreach ($pages ?? [] as $exchange) {
            $page = CurrentAnswer::of($exchange, null, $answer);
            if ($page->isThere && $count < self::MOST) {
                $found[] = $one = $page->read === null ? $answer->page($page->document) : $answer->pageOf($page->read);
                $count += count($one->values);
            }
        }
        if ($count === 0 && isset($definition->endpoint['answer']['sample'])) {
            $found = [new RecordPage($answer->records($definition->endpoint['answer']['sample']))];
        }

        return RecordPage::together($found, self::MOST);
    }
}
