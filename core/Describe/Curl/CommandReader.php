<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Curl;

use DeepSpring\Describe\Files;
use DeepSpring\Describe\UnreadableCommand;

/**
 * Options of one command, gathered word by word; `--next` and further addresses make further requests.
 *
 * In one piece, since an option changes what the ones before it have gathered.
 */
final class CommandReader
{
    private ?string $method = null;

    private bool $isHead = false;

    private bool $asQuery = false;

    private bool $isJson = false;

    private bool $compressed = false;

    private ?string $body = null;

    private ?string $user = null;

    private ?string $upload = null;

    private ?string $agent = null;

    private ?string $bearer = null;

    private ?string $referer = null;

    private ?string $range = null;

    /** @var list<string> */
    private array $urls = [];

    /** @var list<array{string, string|null}> a header to send, or to leave away */
    private array $headers = [];

    /** @var list<string> */
    private array $query = [];

    /** @var list<string> */
    private array $cookies = [];

    /** @var list<FormPart>|null */
    private ?array $parts = null;

    /** @var list<string> */
    private array $missing = [];

    /** @var list<string> */
    private array $unknown = [];

    /** @var list<string> */
    private array $notes = [];

    /**
     * @param  string|null  $input  what the command is given to read; null when that is not known
     */
    public function __construct(private readonly Files $files, private readonly ?string $input = null)
    {
    }

    /**
     * @param  list<string>  $words  without the name of the program
     * @return list<CurlCommand>
     *
     * @throws UnreadableCommand
     */
    public function of(array $words): array
    {
        for ($i = 0; $i < count($words); $i++) {
            $word = $words[$i];
            if ($word === '--next' || $word === '-:') {
                return [...$this->requests(), ...(new self($this->files, $this->input))->of(array_slice($words, $i + 1))];
            }
            if (preg_match('/^--([A-Za-z][A-Za-z0-9.-]*)(?:=(.*))?$/sD', $word, $part) === 1) {
                $i = $this->option($part[1], $part[2] ?? null, $words, $i);
            } elseif (preg_match('/^-(.)(.*)$/sD', $word, $part) === 1 && $word !== '--') {
                $i = $this->letters($part[1].$part[2], $words, $i);
            } elseif ($word !== '--') {
                $this->urls[] = $word;
            }
        }

        return $this->requests();
    }

    /**
     * -sSL is three switches; -XPOST is one with its value.
     *
     * @param  list<string>  $words
     */
    private function letters(string $letters, array $words, int $at): int
    {
        for ($i = 0; $i < strlen($letters); $i++) {
            $name = Option::SHORT[$letters[$i]] ?? null;
            if ($name === null) {
                $this->unknown[] = "-{$letters[$i]}";

                continue;
            }
            if (in_array($name, Option::SHAPING, true) || in_array($name, Option::APART, true) || in_array($name, ['config', 'time-cond', 'continue-at', 'ftp-port', 'quote', 'telnet-option'], true)) {
                $attached = substr($letters, $i + 1);

                return $this->option($name, $attached === '' ? null : $attached, $words, $at, "-{$letters[$i]}");
            }
            $this->option($name, null, $words, $at, "-{$letters[$i]}");
        }

        return $at;
    }

    /**
     * @param  list<string>  $words
     * @return int where the last word that was used stands
     */
    private function option(string $name, ?string $value, array $words, int $at, ?string $shown = null): int
    {
        $shown ??= "--$name";
        $takes = in_array($name, Option::SHAPING, true) || in_array($name, Option::APART, true) || in_array($name, ['config', 'time-cond', 'continue-at', 'aws-sigv4'], true);
        if ($takes && $value === null) {
            $at++;
            $value = $words[$at] ?? throw UnreadableCommand::valueMissing($shown);
        }
        if (in_array($name, Option::SHAPING, true)) {
            $this->shape($name, (string) $value);
        } elseif (in_array($name, ['config', 'time-cond', 'continue-at', 'aws-sigv4'], true)) {
            $this->unknown[] = "$shown $value";
        } elseif (in_array($name, Option::SWITCHES, true)) {
            $this->switch($name);
        } elseif (! in_array($name, Option::QUIET, true) && ! in_array($name, Option::APART, true)) {
            // Whether it takes a value cannot be told, so the next word is looked at as one of its own.
            $this->unknown[] = $shown.($value === null ? '' : "=$value");
        }

        return $at;
    }

    private function switch(string $name): void
    {
        match ($name) {
            'get' => $this->asQuery = true,
            'head' => $this->isHead = true,
            'compressed' => $this->compressed = true,
            'insecure' => $this->notes[] = 'The command does not check the certificate (-k). Here it is always checked.',
            'digest', 'ntlm', 'negotiate' => $this->unknown[] = "--$name",
            default => null,
        };
    }

    private function shape(string $name, string $value): void
    {
        match ($name) {
            'request' => preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $value) === 1 ? $this->method = $value : $this->unknown[] = "-X $value",
            'url' => $this->urls[] = $value,
            'header' => $this->addHeader($value),
            'user' => $this->user = $value,
            'oauth2-bearer' => $this->bearer = $value,
            'user-agent' => $this->agent = $value,
            'referer' => $this->referer = (string) preg_replace('/;auto$/D', '', $value),
            'range' => $this->range = $value,
            'cookie' => $this->addCookie($value),
            'data', 'data-ascii' => $this->addData($this->content($value, true)),
            'data-raw' => $this->addData($value),
            'data-binary' => $this->addData($this->content($value, false)),
            'data-urlencode' => $this->addData($this->encoded($value)),
            'url-query' => $this->query[] = str_starts_with($value, '+') ? substr($value, 1) : $this->encoded($value),
            'json' => $this->addJson($this->content($value, false)),
            'form' => $this->addPart($value),
            'form-string' => $this->parts[] = new FormPart(strtok($value, '=') ?: '', substr($value, (int) strpos($value, '=') + 1)),
            'upload-file' => $this->upload = $value,
            'proxy' => $this->notes[] = 'The command goes by way of a proxy (-x). Here requests go straight, from this server.',
            'request-target' => $this->unknown[] = "--request-target $value",
            'cert', 'key', 'cacert' => $this->notes[] = "The command names a file for --$name. Add a client certificate under Access and paste its content there.",
            default => null,
        };
    }

    private function addData(string $data): void
    {
        $this->body = $this->body === null ? $data : "$this->body&$data";
    }

    private function addJson(string $json): void
    {
        $this->isJson = true;
        $this->body = ($this->body ?? '').$json;
    }

    /**
     * `@name` stands for a file; without line breaks where curl takes them out.
     */
    private function content(string $value, bool $isStripped): string
    {
        if (! str_starts_with($value, '@')) {
            return $value;
        }
        $content = $this->file(substr($value, 1));

        return $isStripped ? str_replace(["\r", "\n", "\0"], '', $content) : $content;
    }

    private function file(string $name): string
    {
        $content = $name === '-' && $this->input !== null ? $this->input : $this->files->get($name);
        if ($content === null) {
            $this->missing[] = $name;
        }

        return $content ?? '';
    }

    /**
     * content, =content, name=content, @file or name@file.
     */
    private function encoded(string $value): string
    {
        if (preg_match('/^([^=@]*)([=@])(.*)$/sD', $value, $part) !== 1) {
            return $this->percent($value);
        }
        $content = $part[2] === '@' ? $this->file($part[3]) : $part[3];

        return ($part[1] === '' ? '' : "$part[1]=").$this->percent($content);
    }

    private function percent(string $value): string
    {
        return str_replace('%20', '+', rawurlencode($value));
    }

    private function addHeader(string $line): void
    {
        if (str_starts_with($line, '@')) {
            foreach (explode("\n", $this->file(substr($line, 1))) as $one) {
                $this->addHeader(rtrim($one, "\r"));
            }
        } elseif (preg_match('/^\s*([^:;\s]+)\s*;\s*$/D', $line, $part) === 1) {
            $this->headers[] = [$part[1], ''];
        } elseif (preg_match('/^\s*([A-Za-z0-9!#$%&\'*+.^_`|~-]+)\s*:\s*([^\x00-\x08\x0a-\x1f\x7f]*?)\s*$/sD', $line, $part) === 1) {
            $this->headers[] = [$part[1], $part[2] === '' ? null : $part[2]];
        } elseif (trim($line) !== '') {
            $this->unknown[] = '-H '.preg_replace('/:.*$/s', ': …', $line);
        }
    }

    private function addCookie(string $value): void
    {
        if (str_contains($value, '=')) {
            $this->cookies[] = $value;
        } elseif ($value !== '' && $value !== '-') {
            $this->missing[] = $value;
        }
    }

    /**
     * name=content, name=@file or name=<file, with `;type=` and `;filename=` after it.
     */
    private function addPart(string $value): void
    {
        [$name, $content] = explode('=', $value, 2) + [1 => ''];
        $name = preg_match('/^"(.*)"$/sD', $name, $quoted) === 1 ? stripslashes($quoted[1]) : $name;
        $type = null;
        $filename = null;
        if (preg_match('/^([@<]?)"((?:[^"\\\\]|\\\\.)*)"(.*)$/sD', $content, $part) === 1) {
            $content = $part[1].strtr($part[2], ['\\"' => '"', '\\\\' => '\\']);
            $more = $part[3];
        } else {
            $cut = strpos($content, ';');
            $more = $cut === false ? '' : substr($content, $cut);
            $content = $cut === false ? $content : substr($content, 0, $cut);
        }
        if (preg_match('/;\s*filename=(?:"((?:[^"\\\\]|\\\\.)*)"|([^;]*))/', $more, $found) === 1) {
            $filename = $found[1] !== '' ? strtr($found[1], ['\\"' => '"', '\\\\' => '\\']) : ($found[2] ?? '');
        }
        if (preg_match('/;\s*type=([^;]+(?:;(?!\s*(?:filename|headers|encoder)=)[^;]*)*)/', $more, $found) === 1) {
            $type = $found[1];
        }
        if (str_starts_with($content, '@')) {
            $file = substr($content, 1);
            $this->parts[] = new FormPart($name, $this->files->get($file), true, $filename ?? basename($file), $type);
            $this->file($file);
        } elseif (str_starts_with($content, '<')) {
            $this->parts[] = new FormPart($name, $this->file(substr($content, 1)), false, $filename, $type);
        } else {
            $this->parts[] = new FormPart($name, $content, false, $filename, $type);
        }
    }

    /**
     * @return list<CurlCommand>
     */
    private function requests(): array
    {
        if ($this->urls === []) {
            throw UnreadableCommand::withoutAddress();
        }

        return array_map($this->request(...), $this->urls);
    }

    private function request(string $url): CurlCommand
    {
        $url = preg_match('~^[a-z][a-z0-9+.-]*://~i', $url) === 1 ? $url : "http://$url";
        if (preg_match('~^https?://[^/?#\s]+~i', $url) !== 1) {
            throw UnreadableCommand::withAddress($url);
        }
        $url = (string) preg_replace('/#.*$/s', '', $url);
        // With -G, what --data gives stands in the place of what --url-query gives.
        $query = $this->asQuery && $this->body !== null ? [$this->body] : $this->query;
        if ($query !== []) {
            $url .= (str_contains($url, '?') ? (preg_match('/[?&]$/D', $url) === 1 ? '' : '&') : '?').implode('&', $query);
        }
        $body = $this->asQuery ? null : $this->body;
        $uploaded = $this->upload === null ? null : $this->file($this->upload === '.' ? '-' : $this->upload);
        $url = $uploaded === null ? $url : $this->withFileName($url);
        $method = $this->method ?? match (true) {
            $this->isHead => 'HEAD',
            $this->upload !== null => 'PUT',
            $body !== null, $this->parts !== null => 'POST',
            default => 'GET',
        };

        return new CurlCommand($method, $url, $this->allHeaders($body !== null, $uploaded ?? $body), $this->user, $uploaded ?? $body ?? '', $body === null && $uploaded === null ? $this->parts : null, array_values(array_unique($this->missing)), array_values(array_unique($this->unknown)), array_values(array_unique($this->notes)));
    }

    /**
     * An address that ends in a slash names a folder, into which a file is sent by its own name.
     */
    private function withFileName(string $url): string
    {
        $address = explode('?', $url, 2)[0];
        $query = substr($url, strlen($address));
        $address .= preg_match('~^[^/]+//[^/]*$~D', $address) === 1 ? '/' : '';
        $isFolder = str_ends_with($address, '/') && ! in_array($this->upload, ['-', '.'], true);

        return $address.($isFolder ? rawurlencode(basename((string) $this->upload)) : '').$query;
    }

    /**
     * Those of options first, as long as no -H says otherwise.
     *
     * @param  bool  $isData  whether there is a body of --data
     * @param  string|null  $sent  body of --data or --upload-file; null without one
     * @return list<array{string, string}>
     */
    private function allHeaders(bool $isData, ?string $sent): array
    {
        $named = array_map(static fn (array $one): string => strtolower($one[0]), $this->headers);
        $implied = [];
        if ($this->bearer !== null) {
            $implied[] = ['Authorization', "Bearer $this->bearer"];
        }
        if ($this->agent !== null && $this->agent !== '') {
            $implied[] = ['User-Agent', $this->agent];
        }
        if ($this->referer !== null && $this->referer !== '') {
            $implied[] = ['Referer', $this->referer];
        }
        if ($this->range !== null && $sent !== null) {
            $implied[] = ['Content-Range', "bytes $this->range/".strlen($sent)];
        } elseif ($this->range !== null && $this->parts === null) {
            $implied[] = ['Range', "bytes=$this->range"];
        }
        if ($this->compressed) {
            $implied[] = ['Accept-Encoding', 'deflate, gzip'];
        }
        if ($this->cookies !== []) {
            $implied[] = ['Cookie', implode(';', $this->cookies)];
        }
        if ($isData || $this->isJson) {
            $implied[] = ['Content-Type', $this->isJson ? 'application/json' : 'application/x-www-form-urlencoded'];
        }
        if ($this->isJson) {
            $implied[] = ['Accept', 'application/json'];
        }
        $implied = array_values(array_filter($implied, static fn (array $one): bool => ! in_array(strtolower($one[0]), $named, true)));

        /** @var list<array{string, string}> */
        return [...$implied, ...array_values(array_filter($this->headers, static fn (array $one): bool => $one[1] !== null))];
    }
}
