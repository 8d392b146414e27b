<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * What came back to a request for a token.
 */
final readonly class TokenAnswer
{
    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public function __construct(public int $status, public array $headers, #[\SensitiveParameter] public string $body)
    {
    }

    /**
     * The body as a JSON object, or as a form, which some services still send.
     *
     * @return array<array-key, mixed>|null
     */
    public function members(): ?array
    {
        $json = json_decode($this->body, true, 32);
        if (is_array($json)) {
            return $json;
        }
        if (str_contains($this->headers['content-type'] ?? '', 'x-www-form-urlencoded')) {
            parse_str($this->body, $form);

            return $form;
        }

        return null;
    }

    /**
     * Cookies that were set (RFC 6265 §4.1), by name.
     *
     * @return array<string, string>
     */
    public function cookies(): array
    {
        preg_match_all('/(?:^|,\s*)([!#$%&\'*+.^_`|~0-9A-Za-z-]+)=([^;,]*)/', (string) preg_replace('/;\s*expires=[^;]*/i', '', $this->headers['set-cookie'] ?? ''), $found, PREG_SET_ORDER);

        return array_column($found, 2, 1);
    }
}
