<?php

declare(strict_types=1);

namespace StandIns\LabelWriter;

use StandIns\Faults;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;
use StandIns\Words;

/**
 * Drafts a wall label: one action, slow, with the text deep inside arrays.
 */
final readonly class LabelWriter implements StandIn
{
    public const KEY = 'lw-demo-93e1d07ac5b2486f';

    private const TONES = ['plain', 'warm', 'scholarly'];

    public function __construct(private Faults $faults)
    {
    }

    public function answer(Request $request): Response
    {
        if (($request->headers['authorization'] ?? '') !== 'Bearer '.self::KEY) {
            return Response::json(['error' => ['type' => 'unauthorized', 'message' => 'Send your key as a bearer token.']], 401, ['WWW-Authenticate' => 'Bearer']);
        }
        if ($request->path === '/v1/tones' && $request->method === 'GET') {
            return Response::json(['tones' => array_map(static fn (string $tone): array => ['code' => $tone, 'name' => ucfirst($tone)], self::TONES)]);
        }
        if ($request->path !== '/v1/labels') {
            return Response::json(['error' => ['type' => 'not_found', 'message' => 'There are labels and tones.']], 404);
        }
        if ($request->method !== 'POST') {
            return Response::json(['error' => ['type' => 'method', 'message' => 'Labels are drafted by POST.']], 405, ['Allow' => 'POST']);
        }
        if (! str_starts_with(strtolower($request->headers['content-type'] ?? ''), 'application/json')) {
            return Response::json(['error' => ['type' => 'media_type', 'message' => 'Send application/json.']], 415);
        }
        $given = json_decode($request->body, true);
        $object = is_array($given) ? $given['object'] ?? null : null;
        if (! is_array($object) || ! is_string($object['title'] ?? null) || trim($object['title']) === '') {
            return Response::json(['error' => ['type' => 'invalid', 'message' => 'object.title is needed.', 'field' => 'object.title']], 422);
        }
        $tone = $given['tone'] ?? 'plain';
        if (! in_array($tone, self::TONES, true)) {
            return Response::json(['error' => ['type' => 'invalid', 'message' => 'tone is one of '.implode(', ', self::TONES).'.', 'field' => 'tone']], 422);
        }
        $seed = (string) json_encode([$object['title'], $tone]);
        usleep((int) (1_000_000 * ($this->faults->setting('seconds') ?? Words::number($seed, 30, 80) / 10)));
        $words = max(10, min(120, (int) ($given['words'] ?? 40)));

        return Response::json(['drafts' => [[
            'language' => 'en', 'tone' => $tone,
            'parts' => [
                ['kind' => 'heading', 'lines' => [['text' => $object['title']]]],
                ['kind' => 'body', 'lines' => [['text' => $this->sentence($object, $tone, $words)], ['text' => 'Lent by a house of the Circle.']]],
            ],
        ]], 'used' => ['words' => $words, 'credits' => 1]]);
    }

    /**
     * @param  array<string, mixed>  $object
     */
    private function sentence(array $object, string $tone, int $words): string
    {
        $made = isset($object['materials']) && is_array($object['materials']) ? ' of '.implode(' and ', array_map(strval(...), $object['materials'])) : '';
        $text = ['plain' => "{$object['title']}$made.", 'warm' => "Come closer: {$object['title']}$made, worn by many hands.", 'scholarly' => "{$object['title']}$made; provenance after the ledger of 1811."][$tone];

        return implode(' ', array_slice(explode(' ', $text.' It came over the marsh in a crate of straw.'), 0, $words));
    }
}
