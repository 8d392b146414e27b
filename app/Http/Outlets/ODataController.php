<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Models\User;
use App\Outlets\CallLimits;
use App\Outlets\CallLog;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\FeedRows;
use App\Outlets\FeedState;
use App\Outlets\OData\EntityKey;
use App\Outlets\OData\FeedEntity;
use App\Outlets\OData\FeedMetadata;
use App\Outlets\OData\ODataOptions;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\RowJson;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Feeds of one version as a service of OData 4.01, which readers of 4.0 can read, too.
 */
final class ODataController extends Controller
{
    public function __construct(private readonly FeedRows $rows, private readonly CallLimits $limits)
    {
    }

    public function service(Request $request): Response
    {
        return $this->answered($request, function (Principal $reader) use ($request): Response {
            $sets = array_map(static fn (Feed $feed): array => ['name' => FeedEntity::nameOf($feed->name), 'kind' => 'EntitySet', 'url' => FeedEntity::nameOf($feed->name)] + ($feed->title === '' ? [] : ['title' => $feed->title]), $this->feeds($reader, $request));

            return self::json($request, (string) json_encode(['@odata.context' => $this->root($request).'/$metadata', 'value' => $sets], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE));
        });
    }

    public function metadata(Request $request): Response
    {
        return $this->answered($request, function (Principal $reader) use ($request): Response {
            $entities = array_map(self::entity(...), $this->feeds($reader, $request));
            $wanted = strtolower($this->text('$format') ?: $this->text('format'));
            $isJson = $wanted !== '' ? str_contains($wanted, 'json') : str_contains((string) ($request->getAcceptableContentTypes()[0] ?? ''), 'json');

            return $isJson ? self::json($request, (string) json_encode(FeedMetadata::json($entities, self::version($request)), JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)) : new Response(FeedMetadata::xml($entities, self::version($request)), 200, ['Content-Type' => 'application/xml']);
        });
    }

    /**
     * An entity set, one entity of it, or how many there are.
     */
    public function set(Request $request): Response
    {
        preg_match('~^([a-z0-9_]+)(?:\((.*)\))?(/\$count)?$~Ds', (string) $request->route('set'), $part, PREG_UNMATCHED_AS_NULL);
        [$set, $key, $counts] = [(string) ($part[1] ?? ''), $part[2] ?? null, ($part[3] ?? null) !== null];

        return $this->answered($request, function (Principal $reader, int &$rows, ?Feed &$of) use ($request, $set, $key, $counts): Response {
            $feed = Feed::query()->with('environment', 'user')->where(['name' => FeedEntity::feedOf($set), 'version' => (int) $this->routeVersion($request), 'is_on' => true])->first();
            if ($feed === null || ! KnownReader::mayRead($reader, $feed)) {
                throw FeedProblem::isNotThere($set);
            }
            $of = $feed;
            $entity = self::entity($feed);
            $table = KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();
            if ($table === null || $entity->shape->missing !== []) {
                throw new FeedProblem(503, 'What this feed reads is not there now. Whoever answers for it can see why.', ['Retry-After' => '60']);
            }
            $state = FeedState::of($feed, $table);
            $question = ODataOptions::read($entity, $request->query->all(), now()->toDateTimeImmutable());
            if ($counts) {
                return new Response((string) $this->rows->count($feed, $question, $reader), 200, ['Content-Type' => 'text/plain']);
            }
            $response = self::json($request, '');
            $state->since === null || $response->setLastModified($state->since->toDateTimeImmutable());
            $state->mark === null || $response->setEtag(hash('xxh128', (string) json_encode([$state->mark, $request->getRequestUri(), $response->headers->get('Content-Type'), $request->headers->get('prefer')])), true);
            if ($state->mark !== null && $response->isNotModified($request)) {
                return $response;
            }

            return $key === null ? $this->page($request, $entity, $state, $question, $reader, $response, $rows) : $this->one($request, $entity, $state, $question, $key, $reader, $response, $rows);
        });
    }

    /**
     * @throws FeedProblem
     */
    private function page(Request $request, FeedEntity $entity, FeedState $state, FeedQuestion $question, Principal $reader, Response $response, int &$rows): Response
    {
        $feed = $entity->feed;
        $wish = preg_match('/\b(?:odata\.)?maxpagesize\s*=\s*"?(\d{1,9})/i', (string) $request->headers->get('prefer'), $found) === 1 && (int) $found[1] > 0 ? (int) $found[1] : null;
        $size = min($wish ?? $feed->most, $feed->most);
        $wanted = $question->top === null ? $size : min($size, $question->top);
        $page = $this->rows->page($feed, $entity->shape, $state, $question, $reader, $wanted);
        $rows = count($page->rows);
        $left = $question->top === null ? null : $question->top - $rows;
        $next = null;
        if ($page->next !== null && $left !== 0) {
            $options = array_filter($request->query->all(), static fn (int|string $name): bool => ! in_array(ltrim(strtolower((string) $name), '$'), ['skip', 'skiptoken', 'top'], true), ARRAY_FILTER_USE_KEY);
            $next = "{$this->root($request)}/$entity->set?".http_build_query($options + ($left === null ? [] : ['$top' => $left]) + ['$skiptoken' => $page->next], '', '&', PHP_QUERY_RFC3986);
        }
        $wish === null || $response->headers->set('Preference-Applied', "odata.maxpagesize=$size");
        $select = $question->columns === $entity->columns ? '' : '('.implode(',', array_map(static fn (FeedColumn $column): string => $column->name, $question->columns)).')';
        $values = implode(',', array_map((new RowJson($page->columns, self::asTexts($request), true))->object(...), $page->rows));

        return $response->setContent('{"@odata.context":'.json_encode("{$this->root($request)}/\$metadata#$entity->set$select", JSON_UNESCAPED_SLASHES).($page->total === null ? '' : ",\"@odata.count\":$page->total").",\"value\":[$values]".($next === null ? '' : ',"@odata.nextLink":'.json_encode($next, JSON_UNESCAPED_SLASHES)).'}');
    }

    /**
     * @throws FeedProblem
     */
    private function one(Request $request, FeedEntity $entity, FeedState $state, FeedQuestion $question, string $key, Principal $reader, Response $response, int &$rows): Response
    {
        $asked = new FeedQuestion($question->columns, EntityKey::condition($entity, $key), $question->order, 1, '', false, '');
        $page = $this->rows->page($entity->feed, $entity->shape, $state, $asked, $reader, 1);
        $row = $page->rows[0] ?? throw new FeedProblem(404, "There is no $entity->set($key).");
        $rows = 1;
        $context = '{"@odata.context":'.json_encode("{$this->root($request)}/\$metadata#$entity->set/\$entity", JSON_UNESCAPED_SLASHES).',';

        return $response->setContent($context.substr((new RowJson($page->columns, self::asTexts($request), true))->object($row), 1));
    }

    /**
     * @param  \Closure(Principal, int, Feed|null): Response  $answer  the last two are set by it: rows, and the feed that was asked
     */
    private function answered(Request $request, \Closure $answer): Response
    {
        $begun = hrtime(true);
        $reader = KnownReader::of($request);
        $rows = 0;
        /** @var Feed|null $feed */
        $feed = null;
        $headers = [];
        $reason = null;
        try {
            $reader ?? throw KnownReader::isUnknown($request);
            $headers = $reader instanceof Consumer ? $this->limits->take($reader) : [];
            $response = $answer($reader, $rows, $feed);
            $reader instanceof Consumer && $this->limits->countRows($reader, $rows);
        } catch (FeedProblem $problem) {
            $reason = $problem->getMessage();
            $response = self::problem($problem);
        } catch (\Throwable $fault) {
            report($fault);
            $reason = 'A fault of this application.';
            $response = self::problem(new FeedProblem(500, 'A fault of this application. Whoever runs it finds it in the log.'));
        }
        $response->headers->add($headers + ['OData-Version' => self::version($request), 'Vary' => 'Accept, Authorization, X-Api-Key, OData-MaxVersion, Prefer']);
        $response->headers->has('Cache-Control') && str_contains((string) $response->headers->get('Cache-Control'), 'max-age') || $response->headers->set('Cache-Control', 'private, no-cache');
        if ($feed !== null) {
            CallLog::note($feed, $reader, 'odata', (string) $request->server->get('QUERY_STRING'), $rows, strlen((string) $response->getContent()), (int) round((hrtime(true) - $begun) / 1e6), $response->getStatusCode(), $reason);
        }

        return $response;
    }

    /**
     * OData JSON 4.01 §21.
     */
    private static function problem(FeedProblem $problem): Response
    {
        $error = ['code' => strtolower(str_replace(' ', '-', Response::$statusTexts[$problem->status] ?? 'error')), 'message' => $problem->getMessage()] + ($problem->parameter === null ? [] : ['target' => $problem->parameter]);

        return new Response((string) json_encode(['error' => $error], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), $problem->status, $problem->headers + ['Content-Type' => 'application/json', 'Cache-Control' => 'no-store']);
    }

    private static function json(Request $request, string $body): Response
    {
        return new Response($body, 200, ['Content-Type' => 'application/json;odata.metadata=minimal'.(self::asTexts($request) ? ';IEEE754Compatible=true' : '')]);
    }

    /**
     * Whether whole numbers of 64 bits and decimals are wanted as texts (OData JSON 4.01 §3.2).
     */
    private static function asTexts(Request $request): bool
    {
        return preg_match('/\bIEEE754Compatible\s*=\s*true\b/i', $request->headers->get('accept').' '.$request->query('$format')) === 1;
    }

    private static function version(Request $request): string
    {
        return preg_match('/^\s*4\.0(?:\D|$)/', (string) $request->headers->get('odata-maxversion')) === 1 || $request->headers->has('odata-version') && ! $request->headers->has('odata-maxversion') && str_starts_with((string) $request->headers->get('odata-version'), '4.0') && ! str_starts_with((string) $request->headers->get('odata-version'), '4.01') ? '4.0' : '4.01';
    }

    private function routeVersion(Request $request): string
    {
        $version = $request->route('version');

        return is_string($version) ? $version : '1';
    }

    private function root(Request $request): string
    {
        return url("/odata/v{$this->routeVersion($request)}");
    }

    /**
     * @return list<Feed> of this version that a reader may read
     */
    private function feeds(Principal $reader, Request $request): array
    {
        $feeds = match (true) {
            $reader instanceof Consumer => $reader->feeds()->getQuery(),
            $reader instanceof User => Feed::query()->where('for_people', true),
            default => Feed::query()->whereKey(0),
        };

        return array_values($feeds->where(['is_on' => true, 'version' => (int) $this->routeVersion($request)])->orderBy('name')->limit(1000)->get(['feeds.*'])->all());
    }

    private static function entity(Feed $feed): FeedEntity
    {
        return new FeedEntity($feed, KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first());
    }
}
