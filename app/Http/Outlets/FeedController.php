<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\Joined;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Outlets\CallLimits;
use App\Outlets\CallLog;
use App\Outlets\FeedForm;
use App\Outlets\FeedParameters;
use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use App\Outlets\FeedRight;
use App\Outlets\FeedRows;
use App\Outlets\FeedShape;
use App\Outlets\FeedState;
use App\Outlets\FilesAhead;
use App\Outlets\RefusedKeys;
use App\Outlets\WholeFiles;
use DeepSpring\Feed\RowJson;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use Symfony\Component\HttpFoundation\Response as AnyResponse;

/**
 * Feeds as their readers see them: JSON page by page, or all rows as a file.
 */
final class FeedController extends Controller
{
    public function __construct(private readonly FeedRows $rows, private readonly CallLimits $limits, private readonly FilesAhead $files, private readonly RefusedKeys $refused)
    {
    }

    public function __invoke(Request $request): AnyResponse
    {
        // The name, with an ending where one is said.
        $file = (string) $request->route('file');
        $version = $request->route('version');
        $begun = hrtime(true);
        $reader = KnownReader::of($request);
        [$name, $ending] = explode('.', $file, 2) + [1 => ''];
        $feed = $this->feed($name, is_string($version) ? $version : null);
        if ($request->isMethod('OPTIONS')) {
            return $this->shared($request, $feed, (new Response('', 204))->withHeaders(['Allow' => 'GET, HEAD, OPTIONS']));
        }
        $form = null;
        $headers = [];
        $rows = 0;
        try {
            if ($reader === null) {
                throw $this->refused->problem(KnownReader::key($request), (string) $request->ip(), $feed, $ending, (string) $request->server->get('QUERY_STRING'));
            }
            if ($feed === null || ! FeedRight::mayRead($reader, $feed)) {
                throw FeedProblem::isNotThere($name);
            }
            $headers = $reader instanceof Consumer ? $this->limits->take($reader) : [];
            $form = $this->form($request, $ending);
            $response = $this->answer($request, $feed, $reader, $form, $rows);
            $reader instanceof Consumer && $this->limits->countRows($reader, $rows);
            $reason = null;
        } catch (FeedProblem $problem) {
            $response = self::problem($problem);
            $reason = $problem->getMessage();
        } catch (\Throwable $fault) {
            report($fault);
            $reason = 'A fault of this application.';
            $response = self::problem(new FeedProblem(500, 'A fault of this application. Whoever runs it finds it in the log.'));
        }
        $response->headers->add($headers);
        if ($feed !== null && $reader !== null) {
            CallLog::afterwards($feed, $reader, $form->value ?? $ending, (string) $request->server->get('QUERY_STRING'), $rows, self::bytes($response), (int) round((hrtime(true) - $begun) / 1e6), $response->getStatusCode(), $reason);
        }

        return $feed === null ? $response : $this->shared($request, $feed, $response);
    }

    /**
     * Without a version, the oldest that is on: an address never gives something else because there is a newer one.
     */
    private function feed(string $name, ?string $version): ?Feed
    {
        return Joined::first(Feed::query()->where(['feeds.name' => $name, 'is_on' => true])->when($version !== null, static fn ($query) => $query->where('version', (int) $version))->orderBy('version'), 'environment', 'user');
    }

    /**
     * @throws FeedProblem
     */
    private function form(Request $request, string $ending): FeedForm
    {
        $as = $ending !== '' ? $ending : $this->text('as');
        if ($as !== '') {
            return FeedForm::tryFrom($as) ?? throw new FeedProblem($ending === '' ? 400 : 404, "There is no form \"$as\"; there are ".implode(', ', array_column(FeedForm::cases(), 'value')).'.', [], $ending === '' ? 'as' : null);
        }

        return FeedForm::accepted($request->getAcceptableContentTypes()) ?? throw new FeedProblem(406, 'None of the forms that are accepted can be given. There are '.implode(', ', array_map(static fn (FeedForm $form): string => explode(';', $form->mediaType())[0], FeedForm::cases())).'.');
    }

    /**
     * @param  int  $rows  how many were answered
     *
     * @param-out  int  $rows
     *
     * @throws FeedProblem
     */
    private function answer(Request $request, Feed $feed, Principal $reader, FeedForm $form, int &$rows): AnyResponse
    {
        $table = KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();
        $shape = FeedShape::of($feed, $table);
        if ($table === null || $shape->missing !== []) {
            throw new FeedProblem(503, 'What this feed reads is not there now. Whoever answers for it can see why.', ['Retry-After' => '60']);
        }
        $state = FeedState::of($feed, $table);
        $state->mustBeFresh($feed);
        $parameters = FeedParameters::of($feed, $table);
        $question = FeedQuestion::rest($feed, $shape, array_diff_key($request->query->all(), $parameters->all), now()->toDateTimeImmutable(), array_keys($parameters->all))->with($parameters->read($request->query->all()));
        $response = new Response('', 200, ['Content-Type' => $form->mediaType(), 'Cache-Control' => $feed->cache_seconds > 0 ? "private, max-age=$feed->cache_seconds" : 'private, no-cache', 'Vary' => 'Accept, Authorization, X-Api-Key']);
        $state->since === null || $response->setLastModified($state->since->toDateTimeImmutable());
        $state->run === null || $response->headers->set('Spring-Run', (string) $state->run);
        $state->mark === null || $response->setEtag(hash('xxh128', (string) json_encode([$state->mark, $form->value, $request->query->all(), $feed->asksReader() === [] ? '' : $reader->account()])), true);
        if ($state->mark !== null && $response->isNotModified($request) || $request->isMethod('HEAD')) {
            return $response;
        }

        return $form === FeedForm::Json ? $this->page($request, $feed, $shape, $state, $question, $reader, $response, $rows) : $this->file($feed, $state, $question, $reader, $form, $response, $rows, $request->query->all() === [] || array_keys($request->query->all()) === ['as']);
    }

    /**
     * @param-out  int  $rows
     *
     * @throws FeedProblem
     */
    private function page(Request $request, Feed $feed, FeedShape $shape, FeedState $state, FeedQuestion $question, Principal $reader, Response $response, int &$rows): Response
    {
        $page = $this->rows->page($feed, $shape, $state, $question, $reader, min($question->top ?? $feed->page, $feed->most));
        $rows = count($page->rows);
        $next = $page->next === null ? null : $request->url().'?'.http_build_query(['after' => $page->next] + $request->query->all(), '', '&', PHP_QUERY_RFC3986);
        $next === null || $response->headers->set('Link', "<$next>; rel=\"next\"");
        $body = '{"rows":['.implode(',', array_map((new RowJson($page->columns))->object(...), $page->rows)).']';

        return $response->setContent($body.',"next":'.json_encode($next, JSON_UNESCAPED_SLASHES).($page->total === null ? '' : ",\"total\":$page->total").'}');
    }

    /**
     * @param-out  int  $rows
     *
     * @param  bool  $isWhole  whether nothing is asked but the form
     *
     * @throws FeedProblem
     */
    private function file(Feed $feed, FeedState $state, FeedQuestion $question, Principal $reader, FeedForm $form, Response $response, int &$rows, bool $isWhole): BinaryFileResponse
    {
        if ($question->after !== '') {
            throw FeedProblem::wrong('after', 'A file holds all rows, so there is nowhere to go on from.');
        }
        // What all readers get is written once for the rows that are there now.
        $isKept = $isWhole && $state->mark !== null && $feed->asksReader() === [];
        $found = $isKept && $this->rows->mayBeRead($feed, $reader) ? WholeFiles::find($feed, $state, $form) : null;
        if ($found !== null) {
            $rows = $found[1];

            return $this->sent($found[0], $feed, $form, $response);
        }
        [$path, $rows] = $this->files->write($feed, $question, $reader, $form);
        if ($isKept) {
            return $this->sent(WholeFiles::keep($path, $feed, $state, $form, $rows), $feed, $form, $response);
        }

        return $this->sent($path, $feed, $form, $response)->deleteFileAfterSend();
    }

    private function sent(string $path, Feed $feed, FeedForm $form, Response $response): BinaryFileResponse
    {
        $file = new BinaryFileResponse($path, 200, $response->headers->all(), false, null, false, false);
        $file->headers->set('Cache-Control', (string) $response->headers->get('Cache-Control'));

        return $file->setContentDisposition($form === FeedForm::Xlsx ? 'attachment' : 'inline', "$feed->name.$form->value");
    }

    private static function bytes(AnyResponse $response): int
    {
        return $response instanceof BinaryFileResponse ? (int) $response->getFile()->getSize() : strlen((string) $response->getContent());
    }

    /**
     * RFC 9457.
     */
    public static function problem(FeedProblem $problem): Response
    {
        $body = ['type' => 'about:blank', 'title' => Response::$statusTexts[$problem->status] ?? 'Error', 'status' => $problem->status, 'detail' => $problem->getMessage()] + ($problem->parameter === null ? [] : ['parameter' => $problem->parameter]);

        return new Response((string) json_encode($body, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), $problem->status, $problem->headers + ['Content-Type' => 'application/problem+json', 'Cache-Control' => 'no-store']);
    }

    /**
     * Pages of the origins that the feed names may read it (Fetch standard, CORS protocol).
     */
    private function shared(Request $request, ?Feed $feed, AnyResponse $response): AnyResponse
    {
        $origin = (string) $request->headers->get('origin');
        if ($feed !== null && $origin !== '') {
            $response->headers->set('Vary', trim($response->headers->get('Vary').', Origin', ', '));
            if (in_array($origin, $feed->origins, true) || in_array('*', $feed->origins, true)) {
                $response->headers->add(['Access-Control-Allow-Origin' => $origin, 'Access-Control-Allow-Methods' => 'GET, HEAD, OPTIONS', 'Access-Control-Allow-Headers' => 'Authorization, X-Api-Key, If-None-Match, If-Modified-Since', 'Access-Control-Expose-Headers' => 'Link, ETag, Last-Modified, Retry-After, RateLimit-Limit, RateLimit-Remaining, RateLimit-Reset, Spring-Run', 'Access-Control-Max-Age' => '600']);
            }
        }

        return $response;
    }
}
