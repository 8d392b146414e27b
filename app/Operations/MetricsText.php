<?php

declare(strict_types=1);

namespace App\Operations;

/**
 * Figures in the text format of Prometheus, version 0.0.4.
 */
final readonly class MetricsText
{
    /**
     * @param  list<array{string, string, array<string, string>, int|float}>  $figures
     * @param  array{requests?: array<string, array<string, int>>, times?: array<string, array<string, int>>, sum?: array<string, float>}  $requests
     */
    public static function of(array $figures, array $requests): string
    {
        $text = '';
        $named = [];
        // All lines of one name stand together.
        usort($figures, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        foreach ($figures as [$name, $help, $labels, $value]) {
            $text .= isset($named[$name]) ? '' : "# HELP $name $help\n# TYPE $name gauge\n";
            $named[$name] = true;
            $text .= self::line($name, $labels, $value);
        }
        $text .= "# HELP spring_http_requests_total Requests that were answered\n# TYPE spring_http_requests_total counter\n";
        foreach ($requests['requests'] ?? [] as $pool => $classes) {
            foreach ($classes as $class => $count) {
                $text .= self::line('spring_http_requests_total', ['pool' => (string) $pool, 'status' => (string) $class], $count);
            }
        }
        $text .= "# HELP spring_http_request_seconds Seconds until they were answered\n# TYPE spring_http_request_seconds histogram\n";
        foreach ($requests['requests'] ?? [] as $pool => $classes) {
            $all = array_sum($classes);
            foreach ([...RequestFigures::BUCKETS, '+Inf'] as $bound) {
                $text .= self::line('spring_http_request_seconds_bucket', ['pool' => (string) $pool, 'le' => $bound], $bound === '+Inf' ? $all : $requests['times'][$pool][$bound] ?? 0);
            }
            $text .= self::line('spring_http_request_seconds_sum', ['pool' => (string) $pool], round($requests['sum'][$pool] ?? 0, 6));
            $text .= self::line('spring_http_request_seconds_count', ['pool' => (string) $pool], $all);
        }

        return $text;
    }

    /**
     * @param  array<string, string>  $labels
     */
    private static function line(string $name, array $labels, int|float $value): string
    {
        $parts = [];
        foreach ($labels as $label => $text) {
            $parts[] = $label.'="'.strtr($text, ['\\' => '\\\\', '"' => '\\"', "\n" => '\\n']).'"';
        }

        return $name.($parts === [] ? '' : '{'.implode(',', $parts).'}')." $value\n";
    }
}
