<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Exchange;
use App\Transport\Sent;
use DeepSpring\Access\MaskedText;
use DeepSpring\Access\SecretMask;
use DeepSpring\Answer\Digest;
use DeepSpring\Answer\Format\Formats;
use DeepSpring\Answer\UnreadableAnswer;

/**
 * A request and its answer → a row of evidence. Secrets are taken out on the way, from the answer
 * too: some services send back what they were sent.
 */
final class EvidenceWriter
{
    public const REQUEST = 'request';

    public const TOKEN = 'token';

    /** Refused, and sent once more with a new token. */
    public const REFUSED = 'refused';

    /** Bytes of a body that are kept; more would not fit the column when it does not deflate. */
    private const MOST = 32 * 1024 * 1024;

    /**
     * @param  (\Closure(string, string, bool): ?string)|null  $conceal  takes what is masked out of a body, given its media type and whether it is of an error; null when the body must not be kept
     */
    public function write(Sent $sent, SecretMask $mask, int $number, ?int $records, ?int $tryId = null, ?int $runId = null, string $purpose = self::REQUEST, ?\Closure $conceal = null): Exchange
    {
        $body = $conceal === null || $purpose !== self::REQUEST ? $sent->body : $conceal($sent->body, $sent->contentType(), $sent->status >= 400);
        $answer = '';
        $carried = (string) $sent->request->getBody();
        foreach ($sent->headers as $name => $value) {
            $answer .= "$name: ".($name === 'set-cookie' ? self::withoutCookieValues($value) : $value)."\n";
        }

        $text = $purpose === self::TOKEN ? self::withoutTokens($mask->apply($sent->body)) : $mask->apply((string) $body);
        $exchange = Exchange::query()->create([
            'try_id' => $tryId, 'run_id' => $runId, 'number' => $number,
            'purpose' => $purpose,
            'request' => ($sent->head === null ? self::head($sent->request, $mask) : mb_scrub($mask->apply($sent->head), 'UTF-8')).($purpose === self::TOKEN && $carried !== '' ? "\n".self::withoutTokens($mask->apply($carried)) : ''),
            'request_body' => $purpose === self::TOKEN || $carried === '' ? null : gzdeflate($mask->apply($carried), 1),
            'status' => $sent->status,
            'headers' => mb_scrub($mask->apply($answer), 'UTF-8'), 'bytes' => $sent->size(), 'records' => $records,
            'timing' => (new MaskedText($mask))->value($sent->timing->toArray()), 'error' => $sent->failing === null ? null : mb_scrub($mask->apply($sent->detail), 'UTF-8'),
            'body' => $body === null || $sent->size() > self::MOST ? null : gzdeflate($text, 1),
        ]);
        if ($tryId !== null && $sent->failing === null && strlen($text) > AnswerParts::LARGE) {
            $this->inParts($exchange, $text, $sent->contentType());
        }

        return $exchange;
    }

    /**
     * So that a large answer can be looked at without being read whole each time.
     */
    private function inParts(Exchange $exchange, string $text, string $type): void
    {
        try {
            $document = (new Formats)->read($text, $type)->document;
        } catch (UnreadableAnswer) {
            return;
        }
        (new AnswerParts)->store($exchange, $document);
        $digest = gzdeflate((string) json_encode(Digest::of($document), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE), 1);
        Exchange::query()->whereKey($exchange->id)->update(['digest' => $digest]);
    }

    /**
     * What a token endpoint is sent and answers, without what only the two of them may know, even
     * where it was never told to us.
     */
    private static function withoutTokens(string $text): string
    {
        $names = 'access_token|refresh_token|id_token|client_secret|assertion|client_assertion|code|code_verifier|password|token';
        $text = (string) preg_replace('/("(?:'.$names.')"\s*:\s*)"(?:[^"\\\\]|\\\\.)*"/i', '$1"••••••"', $text);

        return (string) preg_replace('/((?:^|&)(?:'.$names.')=)[^&\s]*/i', '$1••••••', $text);
    }

    /**
     * Several cookies are parted by a comma that a name follows (RFC 6265 §4.1.1): what stands between a
     * name and the attributes is the value.
     */
    private static function withoutCookieValues(string $cookies): string
    {
        return implode(', ', array_map(static fn (string $one): string => (string) preg_replace('/^([^=;]*=)[^;]+/', '$1••••••', $one), preg_split('/,\s*(?=[^=;,\s]+=)/', $cookies) ?: []));
    }

    /**
     * A body as text that can be shown; of bytes that are no text, how many there are.
     */
    public static function readable(string $body): string
    {
        return mb_check_encoding($body, 'UTF-8') && preg_match('/[\x00-\x08\x0e-\x1f]/', $body) !== 1 ? $body : (string) preg_replace_callback('/(?:[^\x09\x0a\x0d\x20-\x7e]+[\x20-\x7e]{0,8}){4,}/', static fn (array $part): string => '['.number_format(strlen($part[0]), 0, '.', ' ').' bytes]', $body);
    }

    /**
     * Start line and header lines as they leave, host first, secrets masked.
     */
    public static function head(\Psr\Http\Message\RequestInterface $request, SecretMask $mask): string
    {
        $head = $request->getMethod().' '.$request->getRequestTarget()."\nhost: ".$request->getUri()->getAuthority()."\n";
        foreach ($request->getHeaders() as $name => $values) {
            if (strtolower((string) $name) !== 'host') {
                $head .= strtolower((string) $name).': '.implode(', ', $values)."\n";
            }
        }

        return mb_scrub($mask->apply($head), 'UTF-8');
    }
}
