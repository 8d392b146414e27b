<?php

declare(strict_types=1);

namespace StandIns\PostRoom;

/**
 * A mail as it came (RFC 5322), read for who looks at it.
 */
final readonly class CaughtMail
{
    public string $subject;

    public string $text;

    /** @var array<string, string> names in lower case */
    public array $headers;

    public function __construct(string $raw)
    {
        [$head, $body] = explode("\r\n\r\n", $raw, 2) + [1 => ''];
        $headers = [];
        foreach (explode("\r\n", (string) preg_replace('/\r\n[ \t]+/', ' ', $head)) as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            $headers[strtolower($name)] = trim($value);
        }
        $this->headers = $headers;
        $this->subject = iconv_mime_decode($headers['subject'] ?? '', ICONV_MIME_DECODE_CONTINUE_ON_ERROR, 'UTF-8') ?: '';
        $this->text = match (strtolower($headers['content-transfer-encoding'] ?? '')) {
            'quoted-printable' => quoted_printable_decode($body),
            'base64' => (string) base64_decode($body),
            default => $body,
        };
    }
}
