<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Outlets\ControlOpenApi;
use App\Outlets\FeedOpenApi;
use App\Outlets\FeedRight;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * The description of all feeds that a reader may read, or of one of them.
 */
final class FeedOpenApiController extends Controller
{
    public function __invoke(Request $request): JsonResponse|Response
    {
        $reader = KnownReader::of($request);
        $name = $request->route('name');
        $version = $request->route('version');
        if ($reader === null) {
            return new Response('{"type":"about:blank","title":"Unauthorized","status":401,"detail":"A key is needed."}', 401, ['Content-Type' => 'application/problem+json', 'WWW-Authenticate' => 'Bearer realm="feeds", Basic realm="feeds", charset="UTF-8"']);
        }
        $feeds = FeedRight::readable($reader)->where('is_on', true)->when(is_string($name), static fn ($query) => $query->where(['name' => $name, 'version' => (int) (is_string($version) ? $version : 1)]))->orderBy('name')->orderBy('version')->limit(1000)->get(['feeds.*']);
        if (is_string($name) && $feeds->isEmpty()) {
            return new Response((string) json_encode(['type' => 'about:blank', 'title' => 'Not Found', 'status' => 404, 'detail' => "There is no feed \"$name\" that this key can read."]), 404, ['Content-Type' => 'application/problem+json']);
        }
        $first = $feeds->first();

        $document = FeedOpenApi::of($feeds, url('/feeds'), is_string($name) && $first !== null && $first->title !== '' ? $first->title : (is_string($name) ? $name : 'Feeds'));
        if ($reader instanceof Consumer && ! is_string($name)) {
            $document['paths'] = ControlOpenApi::with((array) $document['paths'], $reader);
        }

        return new JsonResponse($document, 200, ['Cache-Control' => 'private, no-cache'], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE);
    }
}
