<?php

declare(strict_types=1);

namespace StandIns\FreightTracker;

use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * Where a consignment is: one a request, as JSON or XML, never in a hurry.
 */
final readonly class FreightTracker implements StandIn
{
    public const USER = 'circle-desk';

    public const PASSWORD = 'tide-and-rope-22';

    public const KEY = 'ft-demo-8a1c55d0b7e23f2a';

    public function answer(Request $request): Response
    {
        $basic = ($request->headers['authorization'] ?? '') === 'Basic '.base64_encode(self::USER.':'.self::PASSWORD);
        $key = ($request->headers['x-freight-key'] ?? '') === self::KEY;
        if (! $basic || ! $key) {
            return Response::json(['error' => $basic ? 'key missing or unknown' : 'who are you?'], 401, ['WWW-Authenticate' => 'Basic realm="freight", Key header="X-Freight-Key"']);
        }
        if ($request->path === '/v3/ping') {
            return Response::json(['pong' => true]);
        }
        if (preg_match('~^/v3/consignments/(\d{1,7})$~D', $request->path, $part) !== 1) {
            return Response::json(['error' => "nothing at {$request->path}"], 404);
        }
        $number = (int) $part[1];
        usleep(80_000);
        if ($number < 70_001 || $number > 70_900) {
            return Response::json(['error' => "consignment $number is not known here"], 404);
        }
        if ($number % 97 === 0) {
            return Response::json(['error' => 'the board is being wiped, come back'], 503, ['Retry-After' => '2']);
        }
        $consignment = [
            'number' => $number, 'status' => Words::pick("status$number", ['booked', 'collected', 'on the road', 'at the quay', 'delivered']),
            'at' => ['place' => Words::pick("place$number", ['Osmery', 'Marrow', 'Caldmouth', 'Vell', 'Sarn']), 'seen' => gmdate('Y-m-d\TH:i:s\Z', (int) gmmktime(6, 0, 0, 1, Words::number("seen$number", 1, 300), 2030))],
            'crates' => Words::number("crates$number", 1, 9), 'weight_kg' => Words::number("weight$number", 40, 90_000) / 10,
        ];
        if (str_contains($request->headers['accept'] ?? '', 'xml')) {
            return new Response(200, ['Content-Type' => 'application/xml'], "<?xml version=\"1.0\"?>\n<consignment number=\"$number\"><status>{$consignment['status']}</status><at><place>{$consignment['at']['place']}</place><seen>{$consignment['at']['seen']}</seen></at><crates>{$consignment['crates']}</crates></consignment>\n");
        }

        return Response::json($consignment);
    }
}
