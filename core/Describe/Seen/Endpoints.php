<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Describe\BodyFromSample;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Slugs;
use DeepSpring\Flatten\Proposal\AnswerColumns;
use DeepSpring\SourceFile\KeptInputs;

/**
 * Requests that were seen → endpoints. Requests that differ only in values are one endpoint; values
 * in the path that look like ids are inputs, with that value to try. Each endpoint is built again with
 * the values that were seen, and where that is another request than the one that was seen, it is said.
 */
final class Endpoints
{
    private Secrecy $secrecy;

    /** @var list<ImportNotice> */
    private array $mends = [];

    /** @var list<string> of endpoints */
    private array $names = [];

    /**
     * @param  list<string>  $bases  of the source that it is for
     */
    public function __construct(private readonly array $bases = [])
    {
    }

    /**
     * @param  list<SeenRequest>  $requests  at least one
     * @param  list<ImportNotice>  $mends  found before
     */
    public function describe(string $kind, string $title, array $requests, array $mends = []): Described
    {
        [$this->secrecy, $this->mends, $this->names] = [new Secrecy, $mends, []];
        $origin = $this->origin($requests);
        $requests = array_values(array_filter($requests, function (SeenRequest $one) use ($origin): bool {
            if ($one->origin() !== $origin) {
                $this->mends[] = ImportNotice::leftOut("{$one->method} {$one->origin()}{$one->path()}", 'It goes to another server than the others. A source has one; add it as a source of its own.');
            }

            return $one->origin() === $origin;
        }));
        $prefix = $this->known($requests) ?? $this->prefix($requests);
        if ($this->bases !== [] && $this->known($requests) === null) {
            $this->mends[] = ImportNotice::note($origin, "This goes to $origin$prefix, and the source is at {$this->bases[0]}: only what stands after that is taken.");
        }
        $groups = [];
        foreach ($requests as $request) {
            $left = $this->secrecy->take($request, $requests);
            [$template, $values] = Path::template(substr($request->path(), strlen($prefix)));
            $groups[$request->method.' '.$template][] = [$request, $left, $values];
        }
        foreach ($this->secrecy->leftOut as $sentence => $count) {
            $this->mends[] = ImportNotice::leftOut($origin, $sentence.($count > 1 ? " ($count times)" : ''));
        }
        $common = $this->common(array_merge(...array_values($groups)));
        $slugs = new Slugs;
        $found = [];
        foreach ($groups as $id => $seen) {
            $found[] = $this->endpoint($id, $seen, $common, $slugs, $origin.$prefix);
        }
        $accept = $common['accept'] ?? null;
        $used = json_encode($this->secrecy->access);
        $secrets = array_filter($this->secrecy->secrets, static fn (string|int $name): bool => str_contains((string) $used, (string) json_encode(['secret' => (string) $name])), ARRAY_FILTER_USE_KEY);

        return new Described($kind, $title, [$origin.$prefix], $this->secrecy->access, ($accept === null || $accept === '*/*' ? [] : ['accept' => $accept]) + array_diff_key($common, ['accept' => 1]), $secrets, $found, $this->mends);
    }

    /**
     * @param  non-empty-list<array{SeenRequest, Left, array<string, string>}>  $seen
     * @param  array<string, string>  $common
     */
    private function endpoint(string $id, array $seen, array $common, Slugs $slugs, string $base): ImportedEndpoint
    {
        [$first, $left, $values] = $seen[0];
        [$method, $path] = explode(' ', $id, 2);
        $inputs = new SeenInputs;
        foreach ($values as $name => $value) {
            $inputs->add($name, 'path', $value === '' ? [] : [$value], ['required' => true], isSent: false);
        }
        foreach ($seen as [, $one]) {
            $this->query($one, $inputs);
        }
        $headers = $this->headers($left, $common, $inputs);
        $cookies = [];
        foreach ($left->cookies as [$name, $value]) {
            $cookies[$name][] = $value;
        }
        foreach ($cookies as $name => $several) {
            $inputs->add((string) $name, 'cookie', $several, count($several) > 1 ? ['many' => 'repeat'] : []);
        }
        [$body, $bodyInputs] = $method === 'HEAD' ? [null, []] : $this->body($first, $inputs->names());
        $all = $this->withoutSecrets([...$inputs->all(), ...$bodyInputs], $id);
        $hidesBody = $all !== [...$inputs->all(), ...$bodyInputs];
        $does = EndpointRole::guess($method, $path);
        $answer = $first->answer ?? array_values(array_filter(array_map(static fn (array $one): mixed => $one[0]->answer, $seen)))[0] ?? null;
        if ($answer !== null && $does === EndpointRole::Get && AnswerColumns::recordsIn($answer) !== null && ! str_ends_with($path, '}')) {
            $does = EndpointRole::List;
        }
        $name = $this->name(EndpointNames::of($does, $path));
        $ask = static fn (?array $body, array $inputs): array => ['method' => $method, 'path' => $path]
            + ($inputs === [] ? [] : ['inputs' => $inputs]) + array_filter(['headers' => $headers + self::contentType($left, $body)]) + ($body === null ? [] : ['body' => $body]);
        $faithful = new Faithfulness($base, $common, $this->secrecy);
        $asked = $ask($body, $all);
        $differs = $faithful->differences($first, $ask($body, [...$inputs->all(), ...$bodyInputs]));
        if (isset($differs['body']) && ! $hidesBody && $first->parts === null && $body !== null && mb_check_encoding($first->body, 'UTF-8')) {
            // What no tree of inputs can say is sent as the text that it was.
            $asText = $ask(BodyFromSample::asText($first->body, $left->contentType()), $inputs->all());
            $differsAsText = $faithful->differences($first, $asText);
            [$asked, $differs] = isset($differsAsText['body']) ? [$asked, $differs] : [$asText, $differsAsText];
        }
        array_push($this->mends, ...array_map(static fn (string $sentence): ImportNotice => ImportNotice::note($id, $sentence), array_values($differs)));
        $endpoint = ['slug' => $slugs->take($name), 'name' => $name, 'does' => $does->value, 'ask' => $asked];
        if ($answer !== null) {
            $endpoint = AnswerColumns::fromAnswer($endpoint, $answer);
        }
        // A request that was seen is what is wanted, for a table as well.
        $endpoint = KeptInputs::put($endpoint, KeptInputs::fromTestValues($endpoint));

        return new ImportedEndpoint($endpoint, $id, '', $first->missing);
    }

    /**
     * No two endpoints of one description have the same name.
     */
    private function name(string $wish): string
    {
        for ($name = $wish, $number = 2; in_array($name, $this->names, true); $number++) {
            $name = "$wish $number";
        }

        return $this->names[] = $name;
    }

    private function query(Left $left, SeenInputs $inputs): void
    {
        $mine = [];
        foreach ($left->query as [$name, $value, $isBare]) {
            if ($name !== '') {
                $mine[($isBare ? ' ' : '=').$name][] = [$value, $isBare];
            }
        }
        foreach ($mine as $name => $pairs) {
            $name = substr((string) $name, 1);
            $isList = str_ends_with($name, '[]') && $name !== '[]';
            $plain = $isList ? substr($name, 0, -2) : $name;
            if (! $inputs->has('query', $plain, $isList, $pairs[0][1])) {
                $inputs->add($plain, 'query', array_column($pairs, 0), $isList ? ['many' => 'brackets'] : (count($pairs) > 1 ? ['many' => 'repeat'] : []), isBare: $pairs[0][1]);
            }
        }
    }

    /**
     * Headers that always are the same; those that a caller has to fill, or that stand there more than
     * once, become inputs.
     *
     * @param  array<string, string>  $common
     * @return array<string, string>
     */
    private function headers(Left $left, array $common, SeenInputs $inputs): array
    {
        $headers = [];
        foreach (array_diff_key($left->headers, $common, ['content-type' => 1]) as $name => $values) {
            if ($name === 'idempotency-key' || count($values) > 1 || Secrecy::isPlaceholder($values[0])) {
                $inputs->add($name, 'header', $values, count($values) > 1 ? ['many' => 'repeat'] : []);
            } else {
                $headers[$name] = $values[0];
            }
        }

        return $headers;
    }

    /**
     * The header that says what the body is, where it is not what such a body is called anyway.
     *
     * @param  array<string, mixed>|null  $body
     * @return array<string, string>
     */
    private static function contentType(Left $left, ?array $body): array
    {
        $type = $left->contentType();
        $usual = ['json' => 'application/json', 'form' => 'application/x-www-form-urlencoded', 'multipart' => 'multipart/form-data', 'xml' => 'application/xml', 'text' => 'text/plain; charset=utf-8'][$body['as'] ?? ''] ?? '';
        // Documentations leave out the type of JSON, which curl then calls a form; a boundary is made anew.
        $isTaken = $type === '' || $body !== null && (strcasecmp($type, $usual) === 0
            || $body['as'] === 'json' && strcasecmp($type, 'application/x-www-form-urlencoded') === 0
            || $body['as'] === 'multipart' && str_starts_with(strtolower($type), 'multipart/form-data'));

        return $isTaken ? [] : ['content-type' => $type];
    }

    /**
     * @param  list<string>  $taken
     * @return array{array<string, mixed>|null, list<array<string, mixed>>}
     */
    private function body(SeenRequest $request, array $taken): array
    {
        if ($request->parts === null) {
            return (new BodyFromSample($taken))->of($request->body, $request->header('content-type'));
        }

        return BodyFromParts::of($request->parts, $taken);
    }

    /**
     * A password that stands in a body is not kept as a value to try.
     *
     * @param  list<array<string, mixed>>  $inputs
     * @return list<array<string, mixed>>
     */
    private function withoutSecrets(array $inputs, string $id): array
    {
        foreach ($inputs as $number => $input) {
            if ($input['in'] === 'body' && isset($input['try']) && preg_match('/passw|secret|token|api_?key|credential/i', (string) $input['name']) === 1) {
                unset($inputs[$number]['try']);
                $inputs[$number]['private'] = true;
                $this->mends[] = ImportNotice::leftOut($id, "The value of \"{$input['name']}\" in the body looks like a secret and was not kept.");
            }
        }

        return $inputs;
    }

    /**
     * The server that most requests go to, those that were answered with JSON before others.
     *
     * @param  list<SeenRequest>  $requests
     */
    private function origin(array $requests): string
    {
        $votes = [];
        foreach ($requests as $request) {
            if (array_filter($this->bases, static fn (string $base): bool => str_starts_with(strtolower($base), $request->origin())) !== []) {
                return $request->origin();
            }
        }
        foreach ($requests as $request) {
            $votes[$request->origin()] = ($votes[$request->origin()] ?? 0) + ($request->answer === null ? 1 : 10);
        }
        arsort($votes);

        return (string) array_key_first($votes);
    }

    /**
     * The path of the base address that all requests stand under.
     *
     * @param  list<SeenRequest>  $requests
     */
    private function known(array $requests): ?string
    {
        foreach ($this->bases as $base) {
            $path = rtrim((string) parse_url($base, PHP_URL_PATH), '/');
            $outside = array_filter($requests, static fn (SeenRequest $one): bool => ! str_starts_with(strtolower($base), $one->origin()) || ! str_starts_with($one->path().'/', "$path/"));
            if ($outside === []) {
                return $path;
            }
        }

        return null;
    }

    /**
     * What all paths begin with: up to a version, or a word like "api".
     *
     * @param  list<SeenRequest>  $requests
     */
    private function prefix(array $requests): string
    {
        $prefixes = [];
        foreach ($requests as $request) {
            $prefixes[] = preg_match('~^(.*?/(?:v\d+(?:\.\d+)*|api|rest))(?=/(?!v\d)|$)~i', $request->path(), $part) === 1 ? $part[1] : '';
        }

        return count(array_unique($prefixes)) === 1 ? $prefixes[0] : '';
    }

    /**
     * Headers that all requests have alike.
     *
     * @param  list<array{SeenRequest, Left, array<string, string>}>  $seen
     * @return array<string, string>
     */
    private function common(array $seen): array
    {
        $single = static fn (Left $left): array => array_map(static fn (array $values): string => $values[0], array_filter($left->headers, static fn (array $values): bool => count($values) === 1));
        $common = $single($seen[0][1]);
        foreach ($seen as [, $left]) {
            $common = array_intersect_assoc($common, $single($left));
        }

        return array_filter(array_diff_key($common, ['content-type' => 1, 'content-encoding' => 1, 'idempotency-key' => 1, 'prefer' => 1, 'if-match' => 1, 'if-none-match' => 1, 'if-modified-since' => 1, 'range' => 1]), static fn (string $value): bool => ! Secrecy::isPlaceholder($value));
    }
}
