<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Principal;
use App\Outlets\CallLimits;
use App\Outlets\FeedProblem;
use App\Outlets\OData\ODataAnswer;
use App\Outlets\OData\ODataCall;
use App\Outlets\OData\ODataService;
use App\Outlets\RefusedKeys;
use DeepSpring\OData\Batch\AskedBatch;
use DeepSpring\OData\Batch\AskedJsonBatch;
use DeepSpring\OData\Batch\AskedMultipartBatch;
use DeepSpring\OData\Batch\BatchPart;
use DeepSpring\OData\Batch\BatchReply;
use DeepSpring\OData\Batch\UnreadableBatch;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Several requests for feeds in one (OData 4.01 protocol §11.7). Each is answered and counted as if it had come alone;
 * none of them changes anything.
 */
final class ODataBatchController extends Controller
{
    /** Bytes of a batch. */
    private const LARGEST = 1_000_000;

    public function __construct(private readonly ODataController $alone, private readonly ODataService $service, private readonly CallLimits $limits, private readonly RefusedKeys $refused)
    {
    }

    public function __invoke(Request $request): Response
    {
        $whole = ODataController::call($request, KnownReader::of($request));
        try {
            $reader = KnownReader::of($request) ?? throw $this->refused->problem(KnownReader::key($request), (string) $request->ip());
            [$form, $parts] = $this->parts($request);
            $replies = $this->replies($request, $whole, $reader, $parts);
        } catch (FeedProblem $problem) {
            $answer = $this->problem($whole, $problem);

            return new Response($answer->body, $answer->status, $answer->headers + ['Content-Type' => $answer->type, 'Cache-Control' => 'no-store']);
        }

        return new Response($form->answer($replies), $whole->protocol->isV4() ? 200 : 202, ['Content-Type' => $form->contentType(), 'Cache-Control' => 'no-store'] + ODataController::versionHeaders($request));
    }

    /**
     * @return array{AskedBatch, list<BatchPart>}
     *
     * @throws FeedProblem
     */
    private function parts(Request $request): array
    {
        if ($request->headers->has('content-encoding')) {
            throw new FeedProblem(415, 'A batch is taken as it is, not compressed.');
        }
        $body = $request->getContent();
        if (strlen($body) > self::LARGEST) {
            throw new FeedProblem(413, 'A batch has at most '.self::LARGEST.' bytes.');
        }
        $type = (string) $request->headers->get('content-type');
        $form = match (true) {
            str_starts_with(strtolower($type), 'multipart/mixed') => new AskedMultipartBatch('answers_'.bin2hex(random_bytes(12))),
            str_starts_with(strtolower($type), 'application/json') && ! $request->is('odata2/*') => new AskedJsonBatch,
            default => throw new FeedProblem(415, 'A batch is multipart/mixed'.($request->is('odata2/*') ? '.' : ' or application/json.')),
        };
        try {
            return [$form, $form->requests($type, $body)];
        } catch (UnreadableBatch $unreadable) {
            throw new FeedProblem(400, $unreadable->getMessage(), [], null, $unreadable);
        }
    }

    /**
     * @param  list<BatchPart>  $parts
     * @return list<BatchReply>
     */
    private function replies(Request $request, ODataCall $whole, Principal $reader, array $parts): array
    {
        $goesOn = ! $whole->protocol->isV4() || preg_match('/\b(?:odata\.)?continue-on-error\b(?!\s*=\s*"?false)/i', (string) $request->headers->get('prefer')) === 1;
        $replies = $failed = [];
        foreach ($parts as $part) {
            $answer = array_intersect($part->after, array_keys($failed)) !== [] ? $this->problem($whole, new FeedProblem(424, 'A request that it depends on was not answered.')) : $this->one($request, $whole, $reader, $part);
            $replies[] = new BatchReply($part->id, $answer->status, $answer->type, $answer->body, $answer->headers + ($answer->mark === null ? [] : ['ETag' => "W/\"$answer->mark\""]));
            if ($answer->status >= 400) {
                $failed[$part->id] = true;
                if (! $goesOn) {
                    // The first that fails ends the batch, unless it was asked to go on (§11.7.2).
                    break;
                }
            }
        }

        return $replies;
    }

    private function one(Request $request, ODataCall $whole, Principal $reader, BatchPart $part): ODataAnswer
    {
        try {
            if ($part->method !== 'GET') {
                throw new FeedProblem(405, 'Feeds are read, not changed: GET.', ['Allow' => 'GET']);
            }
            [$path, $query] = $this->target($whole, $part->url);
            $reader instanceof Consumer && $this->limits->take($reader);
        } catch (FeedProblem $problem) {
            return $this->problem($whole, $problem);
        }
        $call = new ODataCall($reader, $whole->root, $whole->version, $whole->protocol, $path, self::named($query), $part->headers['accept'] ?? $whole->accept, $part->headers['prefer'] ?? '');

        return $this->alone->answered($call, ODataController::says($request), $query);
    }

    /**
     * Parameters with the names that they were given: PHP's own reading makes underscores of dots and blanks.
     *
     * @return array<string, string|list<string>>
     */
    private static function named(string $query): array
    {
        $named = [];
        foreach ($query === '' ? [] : explode('&', $query) as $one) {
            [$name, $value] = array_map(static fn (string $text): string => urldecode($text), explode('=', $one, 2) + [1 => '']);
            $named[$name] = isset($named[$name]) ? [$value, $value] : $value;
        }

        return $named;
    }

    /**
     * @return array{string, string} path below the service, decoded, and what stands behind the question mark
     *
     * @throws FeedProblem
     */
    private function target(ODataCall $whole, string $url): array
    {
        $root = (string) parse_url($whole->root, PHP_URL_PATH);
        [$path, $query] = explode('?', $url, 2) + [1 => ''];
        foreach (["$whole->root/", "$root/"] as $beginning) {
            if (str_starts_with("$path/", $beginning)) {
                $path = substr($path, strlen($beginning));
                break;
            }
        }
        if (preg_match('~^(?:[a-z][a-z0-9+.-]*:)?/~i', $path) === 1 || str_contains($path, '$batch')) {
            throw new FeedProblem(400, 'An address in a batch is one of this service, like loans?$top=5.');
        }

        return [rawurldecode(trim($path, '/')), $query];
    }

    private function problem(ODataCall $whole, FeedProblem $problem): ODataAnswer
    {
        return ODataController::problem($problem, $this->service->writing($whole, '4.01'));
    }
}
