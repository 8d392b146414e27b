<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * The records that are looked at to propose columns and to show what becomes of them.
 */
final class SampledRecords
{
    public const MOST = 2000;

    /**
     * Records of all pages of the last try that succeeded; of the sample where there is none.
     *
     * @return list<mixed>
     */
    public static function of(Endpoint $row, EndpointDefinition $definition, Environment $environment): array
    {
        $answer = $definition->answer();
        $try = $row->lastTry($environment);
        $records = [];
        $pages = $try?->exchanges()->where('purpose', 'request')->whereIn('status', [...$answer->ok, ...(($definition->endpoint['onward']['style'] ?? '') === 'range' ? [206] : [])])->orderBy('number')->get(Exchange::LIGHT);
        foreach ($pages ?? [] as $exchange) {
            $page = CurrentAnswer::of($exchange, null, $answer);
            if ($page->isThere && count($records) < self::MOST) {
                array_push($records, ...($page->read === null ? $answer->page($page->document) : $answer->pageOf($page->read))->values);
            }
        }
        if ($records === [] && isset($definition->endpoint['answer']['sample'])) {
            $records = $answer->records($definition->endpoint['answer']['sample']);
        }

        return array_slice($records, 0, self::MOST);
    }
}
