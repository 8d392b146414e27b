<?php

declare(strict_types=1);

namespace App\Transport;

use App\Models\Upload;
use GuzzleHttp\Promise\Create;
use GuzzleHttp\Promise\PromiseInterface;
use GuzzleHttp\Psr7\Response;
use Psr\Http\Message\RequestInterface;
use Psr\Http\Message\ResponseInterface;

/**
 * Answers for the host of uploaded files, which nobody else has: such a request never leaves.
 */
final readonly class UploadedFiles
{
    public static function middleware(): \Closure
    {
        return static fn (callable $handler): \Closure => static fn (RequestInterface $request, array $options): PromiseInterface => strtolower($request->getUri()->getHost()) === Upload::HOST
            ? Create::promiseFor(self::answer($request, $options))
            : $handler($request, $options);
    }

    /**
     * @param  array<string, mixed>  $options
     */
    private static function answer(RequestInterface $request, array $options): ResponseInterface
    {
        if (! in_array($request->getMethod(), ['GET', 'HEAD'], true)) {
            return self::with(405, ['allow' => 'GET, HEAD', 'content-type' => 'text/plain'], 'An uploaded file is only read.', $options);
        }
        $upload = Upload::at((string) $request->getUri()->withQuery('')->withFragment(''));
        if ($upload === null) {
            return self::with(404, ['content-type' => 'text/plain'], 'No file was uploaded under this address.', $options);
        }
        $tag = "\"$upload->mark\"";
        if ($request->getHeaderLine('if-none-match') === $tag) {
            return self::with(304, ['etag' => $tag], '', $options);
        }

        return self::with(200, ['content-type' => 'text/csv', 'etag' => $tag, 'last-modified' => $upload->updated_at->copy()->utc()->format('D, d M Y H:i:s').' GMT'], $request->getMethod() === 'HEAD' ? '' : (string) gzinflate($upload->body), $options);
    }

    /**
     * @param  array<string, string>  $headers
     * @param  array<string, mixed>  $options
     */
    private static function with(int $status, array $headers, string $body, array $options): ResponseInterface
    {
        $sink = $options['sink'];
        $sink->write($body);
        $sink->rewind();

        return new Response($status, $headers + ['content-length' => (string) strlen($body)], $sink);
    }
}
