<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\Principal;
use App\Outlets\CallLimits;
use App\Outlets\CallLog;
use App\Outlets\FeedProblem;
use App\Outlets\OData\ODataAnswer;
use App\Outlets\OData\ODataCall;
use App\Outlets\OData\ODataService;
use App\Outlets\OData\ODataWriting;
use App\Outlets\RefusedKeys;
use DeepSpring\OData\ODataVersion;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Carbon;

/**
 * Feeds of one version as a service of OData: 4.01, which readers of 4.0 can read, too, and 2.0 under an address of its
 * own.
 */
final class ODataController extends Controller
{
    public function __construct(private readonly ODataService $service, private readonly CallLimits $limits, private readonly RefusedKeys $refused)
    {
    }

    public function __invoke(Request $request): Response
    {
        $reader = KnownReader::of($request);
        $headers = [];
        $call = self::call($request, $reader);
        try {
            $reader === null && throw $this->refused->problem(KnownReader::key($request), (string) $request->ip(), $this->service->named($call), $call->protocol->isV4() ? 'odata' : 'odata2', (string) $request->server->get('QUERY_STRING'));
            $call->protocol->isV4() || self::mustTakeJson($call);
            $headers = $reader instanceof Consumer ? $this->limits->take($reader) : [];
        } catch (FeedProblem $problem) {
            return $this->respond($request, self::problem($problem, $this->service->writing($call, self::says($request))), []);
        }

        return $this->respond($request, $this->answered($call, self::says($request), (string) $request->server->get('QUERY_STRING')), $headers);
    }

    /**
     * Answers one request, whatever becomes of it, and writes it down.
     */
    public function answered(ODataCall $call, string $says, string $asked): ODataAnswer
    {
        $begun = hrtime(true);
        $writing = $this->service->writing($call, $says);
        try {
            $answer = $this->service->answer($call, $writing);
            $call->reader instanceof Consumer && $this->limits->countRows($call->reader, $answer->rows);
        } catch (FeedProblem $problem) {
            $answer = self::problem($problem, $writing, $this->service->asked($call));
        } catch (\Throwable $fault) {
            report($fault);
            $answer = self::problem(new FeedProblem(500, 'A fault of this application. Whoever runs it finds it in the log.'), $writing, $this->service->asked($call));
        }
        if ($answer->feed !== null) {
            $took = (int) round((hrtime(true) - $begun) / 1e6);
            CallLog::afterwards($answer->feed, $call->reader, $call->protocol->isV4() ? 'odata' : 'odata2', $asked, $answer->rows, strlen($answer->body), $took, $answer->status, $answer->reason);
            foreach ($answer->along as [$other, $rows]) {
                // Whoever answers for that feed sees who reads it by way of another.
                CallLog::afterwards($other, $call->reader, 'along', "with {$answer->feed->path()}", $rows, 0, $took, $answer->status);
            }
        }

        return $answer;
    }

    public static function problem(FeedProblem $problem, ODataWriting $writing, ?Feed $feed = null): ODataAnswer
    {
        return new ODataAnswer($problem->status, 'application/json', $writing->problem($problem), 0, $feed, null, null, $problem->headers, $problem->getMessage());
    }

    /**
     * @param  array<string, string>  $headers
     */
    private function respond(Request $request, ODataAnswer $answer, array $headers): Response
    {
        $response = new Response($answer->body, $answer->status, $answer->headers + $headers + ['Content-Type' => $answer->type] + self::versionHeaders($request) + ['Vary' => 'Accept, Authorization, X-Api-Key, OData-MaxVersion, Prefer']);
        $response->headers->set('Cache-Control', $answer->status >= 400 ? 'no-store' : 'private, no-cache');
        $answer->since === null || $response->setLastModified($answer->since->toDateTimeImmutable());
        $answer->mark === null || $response->setEtag($answer->mark, true);

        return $response;
    }

    /**
     * @return array<string, string>
     */
    public static function versionHeaders(Request $request): array
    {
        return $request->is('odata2/*') ? ['DataServiceVersion' => '2.0'] : ['OData-Version' => self::says($request)];
    }

    public static function call(Request $request, ?Principal $reader): ODataCall
    {
        $isOld = $request->is('odata2/*');
        $version = $request->route('version');
        $path = $request->route('path');

        return new ODataCall(
            $reader ?? new Consumer, url(($isOld ? '/odata2' : '/odata').'/v'.(is_string($version) ? $version : '1')), is_string($version) ? (int) $version : 1, $isOld ? ODataVersion::V2 : ODataVersion::V4,
            is_string($path) ? $path : '', $request->query->all(), (string) $request->headers->get('accept'), (string) $request->headers->get('prefer'),
            static function (string $mark, ?Carbon $since) use ($request): bool {
                $response = new Response;
                $since === null || $response->setLastModified($since->toDateTimeImmutable());

                return $response->setEtag($mark, true)->isNotModified($request);
            },
        );
    }

    /**
     * Version 2 has a form in Atom, too, which is not written here.
     *
     * @throws FeedProblem
     */
    private static function mustTakeJson(ODataCall $call): void
    {
        $wanted = $call->format() !== '' ? $call->format() : $call->accept;
        if ($call->path !== '$metadata' && $wanted !== '' && preg_match('~json|\*/\*|application/\*|text/plain|text/html~i', $wanted) !== 1) {
            throw new FeedProblem(406, 'Version 2 is answered in JSON here. Ask for it with $format=json, or with Accept: application/json.');
        }
    }

    /**
     * The version in which a reader of 4.01 or 4.0 is answered (OData 4.01 protocol §8.1.5, §8.2.6).
     */
    public static function says(Request $request): string
    {
        return preg_match('/^\s*4\.0(?:\D|$)/', (string) ($request->headers->get('odata-maxversion') ?? $request->headers->get('odata-version'))) === 1 ? '4.0' : '4.01';
    }
}
