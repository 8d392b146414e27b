<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Exchange;
use App\Models\Tryout;
use DeepSpring\Share\Curl;
use DeepSpring\Share\Har;
use DeepSpring\Share\Recorded;

/**
 * A try as a cURL command and as a HAR file, made from its evidence, in which there are no secrets.
 */
final class TrySharing
{
    public function curl(Exchange $exchange): string
    {
        return (new Curl)->of($this->recorded($exchange, false));
    }

    public function har(Tryout $try): string
    {
        return (new Har)->of(array_values($try->exchanges->map(fn (Exchange $one): Recorded => $this->recorded($one, true))->all()));
    }

    private function recorded(Exchange $exchange, bool $withAnswer): Recorded
    {
        $lines = explode("\n", $exchange->request);
        [$method, $target] = explode(' ', $lines[0]) + [1 => '/'];
        $headers = Exchange::lines(implode("\n", array_slice($lines, 1)));
        $host = '';
        foreach ($headers as [$name, $value]) {
            $host = strcasecmp($name, 'host') === 0 ? $value : $host;
        }

        return new Recorded(
            $method, ($exchange->timing['scheme'] ?? 'http').'://'.$host.$target, $headers, $exchange->carried(),
            $exchange->status, Exchange::lines($exchange->headers), $withAnswer ? $exchange->text() : null, $exchange->timing, $exchange->created_at,
        );
    }
}
