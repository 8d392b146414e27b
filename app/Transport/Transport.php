<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Access\Certificate;
use DeepSpring\Access\SecretMask;
use DeepSpring\Ask\SendFailure;
use GuzzleHttp\Client;
use GuzzleHttp\Exception\ConnectException;
use GuzzleHttp\Exception\RequestException;
use GuzzleHttp\Exception\TransferException;
use GuzzleHttp\Handler\CurlMultiHandler;
use GuzzleHttp\HandlerStack;
use GuzzleHttp\Promise\PromiseInterface;
use GuzzleHttp\Promise\Utils;
use GuzzleHttp\TransferStats;
use Psr\Http\Message\RequestInterface;
use Psr\Http\Message\ResponseInterface;

/**
 * Sends requests over curl, several at once where that is asked, and keeps connections for the next.
 */
final class Transport
{
    /** Seconds that one look at what is under way takes at most. */
    private const WAIT = 0.001;

    private readonly Client $client;

    private readonly CurlMultiHandler $curl;

    /**
     * @param  string|null  $authorities  file of certificates that servers are checked against, in place of the system's
     */
    public function __construct(OutboundGuard $guard, private readonly ?string $authorities = null)
    {
        $this->curl = new CurlMultiHandler(['select_timeout' => self::WAIT]);
        $stack = new HandlerStack($this->curl);
        $stack->push(Redirects::middleware(), 'redirects');
        $stack->push(UploadedFiles::middleware(), 'uploads');
        $stack->push($guard->middleware(), 'guard');
        $this->client = new Client(['handler' => $stack, 'http_errors' => false]);
    }

    /**
     * Sends one request and waits for what comes of it.
     */
    public function send(RequestInterface $request, Limits $limits, SecretMask $mask, ?Certificate $certificate = null): Sent
    {
        $transfer = $this->begin($request, $limits, $mask, $certificate);
        $transfer->wait();

        return $transfer->sent();
    }

    /**
     * Lets what is under way go on, until something happens or for a moment.
     */
    public function tick(): void
    {
        $this->curl->tick();
    }

    /**
     * Lets what was just begun leave: a new connection takes a second step until the request is out.
     */
    public function advance(): void
    {
        Utils::queue()->run();
        $this->curl->tick();
    }

    /**
     * With what every request carries, whatever it asks. Without a length a body would be sent in chunks,
     * which not every server takes (RFC 9112 §6.1).
     */
    public static function completed(RequestInterface $request): RequestInterface
    {
        foreach (['user-agent' => 'DeepSpring/1', 'accept-encoding' => 'gzip'] as $name => $value) {
            $request = $request->hasHeader($name) ? $request : $request->withHeader($name, $value);
        }
        $size = $request->getBody()->getSize();
        $isStated = $size === null || $request->hasHeader('content-length') || $size === 0 && ! in_array($request->getMethod(), ['POST', 'PUT', 'PATCH', 'MERGE'], true);

        return $isStated ? $request : $request->withHeader('content-length', (string) $size);
    }

    /**
     * Sends a request on its way, beside those that are under way already.
     */
    public function begin(RequestInterface $request, Limits $limits, SecretMask $mask, ?Certificate $certificate = null): Transfer
    {
        $request = self::completed($request);
        $sink = new CappedStream($limits->bytes);
        $stats = null;
        $from = microtime(true);
        $last = $request;
        $trail = new Trail;
        $log = $limits->detailed ? new Log : null;
        $options = [
            'sink' => $sink, 'spring_bytes' => $limits->bytes, 'spring_cross_origin' => $limits->crossOrigin, 'spring_trail' => $trail, 'proxy' => '', 'verify' => $this->authorities ?? true,
            'timeout' => $limits->timeout, 'connect_timeout' => min(10, $limits->timeout), 'decode_content' => $request->getHeaderLine('accept-encoding') !== 'identity',
            // HTTP/2 where a secured server has it, and no attempt to change over in clear text.
            'curl' => [CURLOPT_PATH_AS_IS => true, CURLOPT_CERTINFO => true, CURLOPT_HTTP_VERSION => CURL_HTTP_VERSION_2TLS] + ($certificate === null ? [] : [CURLOPT_SSLCERT_BLOB => $certificate->certificate, CURLOPT_SSLKEY_BLOB => $certificate->key] + ($certificate->passphrase === '' ? [] : [CURLOPT_KEYPASSWD => $certificate->passphrase])),
            'debug' => $log->stream ?? false,
            'on_stats' => static function (TransferStats $of) use (&$stats, &$last): void {
                $stats = $of;
                $last = $of->getRequest();
            },
        ];
        if ($limits->stopped !== null) {
            // A progress function that answers anything but 0 ends the transfer.
            $options['curl'] += [CURLOPT_NOPROGRESS => false, CURLOPT_XFERINFOFUNCTION => static fn (): int => ($limits->stopped)() ? 1 : 0];
        }
        $promise = $this->leaves($request, $options);
        $transfer = new Transfer;
        $settle = function (?ResponseInterface $response, ?SendFailure $failing, string $detail) use ($transfer, &$stats, &$last, $trail, $from, $log, $mask, $limits): void {
            $took = microtime(true) - $from;
            $transfer->complete(fn (int $waited, int $attempt): Sent => $this->sent(
                $last, $response, $limits->large, $failing, $mask->apply($detail),
                Timing::fromCurl($stats?->getHandlerStats() ?? [], $trail, $took, $waited, $attempt, $log?->tlsVersion() ?? ''), $log?->head(),
            ));
        };
        $transfer->of($promise->then(
            static fn (ResponseInterface $response) => $settle($response, null, ''),
            function (mixed $reason) use ($settle, $sink, $limits): void {
                if (! $reason instanceof TransferException) {
                    $settle(null, SendFailure::Other, $reason instanceof \Throwable ? $reason->getMessage() : 'it was given up');

                    return;
                }
                [$failing, $detail] = $this->failure($reason, $sink, $limits);
                $settle($reason instanceof RequestException && $failing !== SendFailure::TooLarge && $failing !== SendFailure::Cut ? $reason->getResponse() : null, $failing, $detail);
            },
        ));

        return $transfer;
    }

    /**
     * With every request Guzzle says that its next version will take two options of curl in another way, which nobody
     * has to hear each time.
     *
     * @param  array<string, mixed>  $options
     */
    private function leaves(RequestInterface $request, array $options): PromiseInterface
    {
        set_error_handler(static fn (): bool => true, E_USER_DEPRECATED);
        try {
            return $this->client->sendAsync($request, $options);
        } finally {
            restore_error_handler();
        }
    }

    private function sent(RequestInterface $request, ?ResponseInterface $response, ?int $large, ?SendFailure $failing, string $detail, Timing $timing, ?string $head): Sent
    {
        $headers = [];
        foreach ($response?->getHeaders() ?? [] as $name => $values) {
            $headers[strtolower((string) $name)] = implode(', ', $values);
        }

        $body = $failing === null ? $response?->getBody() : null;
        $isLarge = $large !== null && $body !== null && $body->isSeekable() && $body->getSize() > $large && $response->getStatusCode() === 200;

        return new Sent(
            $request, $response?->getStatusCode(), $response?->getReasonPhrase() ?? '', $response?->getProtocolVersion() ?? '1.1',
            $headers, $isLarge ? '' : (string) $body, $failing, $detail, $timing, $head, $isLarge ? $body : null,
        );
    }

    /**
     * @return array{SendFailure, string}
     */
    private function failure(TransferException $exception, CappedStream $sink, Limits $limits): array
    {
        if ($exception instanceof OutboundRefused) {
            return [SendFailure::Forbidden, $exception->getMessage()];
        }
        if ($exception instanceof UnknownName) {
            return [SendFailure::Name, $exception->getMessage()];
        }
        $context = $exception instanceof ConnectException || $exception instanceof RequestException ? $exception->getHandlerContext() : [];
        $number = (int) ($context['errno'] ?? 0);
        $detail = (string) ($context['error'] ?? $exception->getMessage());
        $detail = (string) preg_replace('/ \(see https:\/\/curl[^)]*\).*$/', '', $detail);
        if (str_contains($detail, 'Too large response headers')) {
            return [SendFailure::TooLarge, 'its headers alone are more than 300 KB'];
        }
        if ($sink->overflowed) {
            return [SendFailure::TooLarge, 'more than '.intdiv($limits->bytes, 1048576).' MB'];
        }

        if ($number === CURLE_OPERATION_TIMEOUTED || $number === CURLE_ABORTED_BY_CALLBACK) {
            $detail = Timing::phase($context, str_starts_with((string) ($context['url'] ?? ''), 'https:'));
        }

        return [match (true) {
            $number === CURLE_ABORTED_BY_CALLBACK => SendFailure::Stopped,
            $number === CURLE_COULDNT_RESOLVE_HOST => SendFailure::Name,
            $number === CURLE_COULDNT_CONNECT => SendFailure::Refused,
            $number === CURLE_OPERATION_TIMEOUTED => ((float) ($context['connect_time'] ?? 0)) > 0 ? SendFailure::AnswerTimeout : SendFailure::ConnectTimeout,
            in_array($number, [CURLE_SSL_CONNECT_ERROR, CURLE_SSL_PEER_CERTIFICATE, 51, 58, 60, 77, 83], true) => SendFailure::Tls,
            in_array($number, [CURLE_PARTIAL_FILE, CURLE_GOT_NOTHING, CURLE_RECV_ERROR, CURLE_SEND_ERROR, 92], true) => SendFailure::Cut,
            default => SendFailure::Other,
        }, $detail];
    }
}
