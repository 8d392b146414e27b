<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * A request for a token that brought none.
 */
final class TokenRefused extends \RuntimeException
{
    /**
     * @param  string  $error  a code of RFC 6749 §5.2 or §4.1.2.1, or one of ours: `not-json`, `no-token`, `status`, `not-found`
     */
    private function __construct(
        public readonly string $error,
        public readonly string $description,
        public readonly int $status,
        string $message,
    ) {
        parent::__construct($message);
    }

    public static function by(TokenAnswer $answer): self
    {
        $members = $answer->members();
        $error = $members['error'] ?? null;
        $said = $members['error_description'] ?? $members['message'] ?? (is_array($error) ? $error['message'] ?? '' : '');
        $said = is_string($said) ? mb_strimwidth($said, 0, 300, '…', 'UTF-8') : '';
        $code = is_string($error) ? $error : (is_array($error) && is_string($error['code'] ?? null) ? $error['code'] : null);

        return match (true) {
            $code !== null => new self($code, $said, $answer->status, "The token endpoint answered $code ($answer->status)".($said === '' ? '.' : ": $said")),
            $members === null && $answer->status < 300 => new self('not-json', '', $answer->status, 'The token endpoint did not answer in JSON.'),
            default => new self('status', $said, $answer->status, "The token endpoint answered $answer->status".($said === '' ? '.' : ": $said")),
        };
    }

    public static function withoutToken(TokenAnswer $answer, string $where): self
    {
        return new self('no-token', '', $answer->status, "The answer holds no token at $where.");
    }

    /**
     * What came back to the redirect address instead of a code (RFC 6749 §4.1.2.1).
     */
    public static function atConsent(string $error, string $description): self
    {
        return new self($error, mb_strimwidth($description, 0, 300, '…', 'UTF-8'), 0, "The service answered the sign-in with $error".($description === '' ? '.' : ': '.mb_strimwidth($description, 0, 300, '…', 'UTF-8')));
    }
}
