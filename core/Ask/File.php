<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * A file as the value of an input, written as a data URL (RFC 2397) with its name as a parameter:
 * `data:application/pdf;name=label.pdf;base64,…`.
 */
final readonly class File
{
    public function __construct(public string $name, public string $type, public string $content)
    {
    }

    public static function of(string $value): ?self
    {
        if (preg_match('~^data:([a-z0-9.+-]+/[a-z0-9.+-]+)?((?:;[^;,]*)*?)(;base64)?,(.*)$~isD', $value, $part) !== 1) {
            return null;
        }
        $content = $part[3] === '' ? rawurldecode($part[4]) : base64_decode($part[4], true);
        $name = preg_match('/;name=([^;,]+)/i', $part[2], $found) === 1 ? rawurldecode($found[1]) : 'file';

        return $content === false ? null : new self($name, $part[1] === '' ? 'application/octet-stream' : strtolower($part[1]), $content);
    }

    public function value(): string
    {
        return "data:{$this->type};name=".rawurlencode($this->name).';base64,'.base64_encode($this->content);
    }
}
