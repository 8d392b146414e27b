<?php

declare(strict_types=1);

namespace DeepSpring\Share;

/**
 * Recorded exchanges as an HTTP Archive, version 1.2. Times are in milliseconds; -1 is what does not apply.
 */
final class Har
{
    /**
     * @param  list<Recorded>  $all
     */
    public function of(array $all): string
    {
        return (string) json_encode(['log' => ['version' => '1.2', 'creator' => ['name' => 'Deep Spring', 'version' => '1'], 'entries' => array_map($this->entry(...), $all)]], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRETTY_PRINT | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    /**
     * @return array<string, mixed>
     */
    private function entry(Recorded $one): array
    {
        $pairs = static fn (array $headers): array => array_map(static fn (array $header): array => ['name' => $header[0], 'value' => $header[1]], $headers);
        $query = [];
        foreach (array_filter(explode('&', (string) parse_url($one->url, PHP_URL_QUERY))) as $pair) {
            [$name, $value] = array_map(urldecode(...), explode('=', $pair, 2) + [1 => '']);
            $query[] = ['name' => $name, 'value' => $value];
        }
        $ms = static fn (string $name): float => (float) ($one->timing[$name] ?? 0);
        $type = static function (array $headers): string {
            foreach ($headers as [$name, $value]) {
                if (strcasecmp($name, 'content-type') === 0) {
                    return $value;
                }
            }

            return '';
        };
        $protocol = (string) ($one->timing['protocol'] ?? 'HTTP/1.1');
        $answer = $one->answer ?? '';
        $isText = mb_check_encoding($answer, 'UTF-8');
        $receive = max(0.0, $ms('total') - $ms('name') - $ms('connect') - $ms('tls') - $ms('firstByte'));

        return [
            'startedDateTime' => $one->at->format('Y-m-d\TH:i:s.vP'), 'time' => $ms('total'),
            'request' => ['method' => $one->method, 'url' => $one->url, 'httpVersion' => $protocol, 'cookies' => [], 'headers' => $pairs($one->headers), 'queryString' => $query, 'headersSize' => -1, 'bodySize' => strlen($one->body)]
                + ($one->body === '' ? [] : ['postData' => ['mimeType' => $type($one->headers), 'text' => $one->body]]),
            'response' => ['status' => $one->status ?? 0, 'statusText' => '', 'httpVersion' => $protocol, 'cookies' => [], 'headers' => $pairs($one->answerHeaders), 'content' => ['size' => strlen($answer), 'mimeType' => $type($one->answerHeaders)] + ($isText ? ['text' => $answer] : ['text' => base64_encode($answer), 'encoding' => 'base64']), 'redirectURL' => '', 'headersSize' => -1, 'bodySize' => (int) ($one->timing['bytesReceived'] ?? -1)],
            'cache' => new \stdClass,
            'timings' => ['blocked' => -1, 'dns' => $ms('name'), 'connect' => $ms('connect') + $ms('tls'), 'ssl' => $ms('tls') > 0 ? $ms('tls') : -1, 'send' => 0, 'wait' => $ms('firstByte'), 'receive' => round($receive, 1)],
            'serverIPAddress' => (string) ($one->timing['address'] ?? ''),
        ];
    }
}
