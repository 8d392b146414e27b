<?php

declare(strict_types=1);

namespace DeepSpring\Share;

/**
 * A recorded request as a cURL command for a POSIX shell. Where a secret stood there is a variable of
 * the shell, named at the end.
 */
final class Curl
{
    private const DOTS = '/(?:•{6}|%E2%80%A2(?:%E2%80%A2){5})[\x21-\x7e]{0,4}(?![\x21-\x7e])|(?:•{6}|%E2%80%A2(?:%E2%80%A2){5})/u';

    /** Sent by curl itself, as the command needs them. */
    private const BY_ITSELF = ['host', 'content-length', 'connection', 'expect', 'transfer-encoding', 'accept-encoding'];

    /** @var array<string, true> */
    private array $variables = [];

    public function of(Recorded $recorded): string
    {
        $this->variables = [];
        $parts = ['curl'];
        $isPlain = $recorded->method === 'GET' && $recorded->body === '' || $recorded->method === 'POST' && $recorded->body !== '';
        if ($recorded->method === 'HEAD') {
            $parts[] = '--head';
        } elseif (! $isPlain) {
            $parts[] = "-X {$recorded->method}";
        }
        $parts[] = $this->quoted($recorded->url, 'KEY');
        $compressed = false;
        foreach ($recorded->headers as [$name, $value]) {
            $lower = strtolower($name);
            $compressed = $compressed || $lower === 'accept-encoding';
            if (in_array($lower, self::BY_ITSELF, true)) {
                continue;
            }
            if ($lower === 'authorization' && preg_match('/^Basic •/u', $value) === 1) {
                $this->variables += ['USERNAME' => true, 'PASSWORD' => true];
                $parts[] = '-u "$USERNAME:$PASSWORD"';
            } else {
                $parts[] = '-H '.$this->quoted("$name: $value", $lower === 'authorization' ? 'TOKEN' : strtoupper(trim((string) preg_replace('/[^A-Za-z0-9]+/', '_', $lower), '_')));
            }
        }
        if ($recorded->body !== '') {
            $parts[] = '--data-raw '.$this->quoted($recorded->body, 'SECRET');
        }
        if ($compressed) {
            $parts[] = '--compressed';
        }
        $names = array_map(static fn (string $name): string => "\$$name", array_keys($this->variables));

        return ($names === [] ? '' : '# Set '.implode(', ', $names)." before.\n").implode(" \\\n  ", $parts);
    }

    /**
     * In single quotes; in double ones when there is a variable to be filled in.
     */
    private function quoted(string $text, string $variable): string
    {
        $pieces = preg_split(self::DOTS, $text) ?: [$text];
        if (count($pieces) === 1) {
            return "'".str_replace("'", "'\\''", $text)."'";
        }
        $this->variables[$variable] = true;

        return '"'.implode("\${{$variable}}", array_map(static fn (string $piece): string => addcslashes($piece, '"\\$`'), $pieces)).'"';
    }
}
