<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Ask\Body\BodyNode;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\File;
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
 * in the path that look like ids are inputs, with that value to try.
 */
final class Endpoints
{
    private Secrecy $secrecy;

    /** @var list<ImportNotice> */
    private array $mends = [];

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
        $this->secrecy = new Secrecy;
        $this->mends = $mends;
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
        $common = $this->common(array_merge(...array_values($groups)));
        $slugs = new Slugs;
        $found = [];
        foreach ($groups as $id => $seen) {
            $found[] = $this->endpoint($id, $seen, $common, $slugs);
        }
        $accept = $common['accept'] ?? null;

        return new Described($kind, $title, [$origin.$prefix], $this->secrecy->access, ($accept === null || $accept === '*/*' ? [] : ['accept' => $accept]) + array_diff_key($common, ['accept' => 1]), $this->secrecy->secrets, $found, $this->mends);
    }

    /**
     * @param  non-empty-list<array{SeenRequest, array{headers: array<string, string>, query: list<array{string, string}>, cookies: array<string, string>}, array<string, string>}>  $seen
     * @param  array<string, string>  $common
     */
    private function endpoint(string $id, array $seen, array $common, Slugs $slugs): ImportedEndpoint
    {
        [$first, $left, $values] = $seen[0];
        [$method, $path] = explode(' ', $id, 2);
        $inputs = [];
        foreach ($values as $name => $value) {
            $inputs[] = ['name' => $name, 'in' => 'path', 'required' => true] + ($value === '' ? [] : ['try' => $value]);
        }
        array_push($inputs, ...$this->query($seen));
        $headers = array_diff_key($left['headers'], $common, ['content-type' => 1]);
        foreach ($headers as $name => $value) {
            if ($name === 'idempotency-key' || Secrecy::isPlaceholder($value)) {
                $inputs[] = ['name' => $name, 'in' => 'header'] + (Secrecy::isPlaceholder($value) ? [] : ['try' => $value]);
                unset($headers[$name]);
            }
        }
        foreach ($left['cookies'] as $name => $value) {
            $inputs[] = ['name' => $name, 'in' => 'cookie'] + ($value === '' ? [] : ['try' => $value]);
        }
        [$body, $bodyInputs] = $method === 'HEAD' ? [null, []] : $this->body($first, array_column($inputs, 'name'));
        $inputs = $this->withoutSecrets([...$inputs, ...$bodyInputs], $id);
        $type = strtolower(trim(explode(';', $left['headers']['content-type'] ?? '')[0]));
        $usual = ['json' => 'application/json', 'form' => 'application/x-www-form-urlencoded', 'multipart' => 'multipart/form-data', 'xml' => 'application/xml', 'text' => 'text/plain'][$body['as'] ?? ''] ?? '';
        // Documentations leave out the type of JSON, which curl then calls a form.
        if ($body !== null && $type !== '' && $type !== $usual && ! ($body['as'] === 'json' && $type === 'application/x-www-form-urlencoded')) {
            $headers['content-type'] = $left['headers']['content-type'];
        }
        $does = EndpointRole::guess($method, $path);
        $answer = $first->answer ?? array_values(array_filter(array_map(static fn (array $one): mixed => $one[0]->answer, $seen)))[0] ?? null;
        if ($answer !== null && $does === EndpointRole::Get && AnswerColumns::recordsIn($answer) !== null && ! str_ends_with($path, '}')) {
            $does = EndpointRole::List;
        }
        $name = EndpointNames::of($does, $path);
        $slug = $slugs->take($name);
        $endpoint = ['slug' => $slug, 'name' => $name, 'does' => $does->value, 'ask' => ['method' => in_array($method, ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE'], true) ? $method : 'GET', 'path' => $path]
            + ($inputs === [] ? [] : ['inputs' => $inputs]) + ($headers === [] ? [] : ['headers' => $headers]) + ($body === null ? [] : ['body' => $body])];
        if ($method !== $endpoint['ask']['method']) {
            $this->mends[] = ImportNotice::mended($id, "$method is none of the methods that an endpoint can have; GET was put in its place.");
        }
        if ($answer !== null) {
            $endpoint = AnswerColumns::fromAnswer($endpoint, $answer);
        }
        // A request that was seen is what is wanted, for a table as well.
        $endpoint = KeptInputs::put($endpoint, KeptInputs::fromTestValues($endpoint));

        return new ImportedEndpoint($endpoint, $id, '', $first->missing);
    }

    /**
     * @param  non-empty-list<array{SeenRequest, array{headers: array<string, string>, query: list<array{string, string}>, cookies: array<string, string>}, array<string, string>}>  $seen
     * @return list<array<string, mixed>>
     */
    private function query(array $seen): array
    {
        $inputs = [];
        foreach ($seen as [, $left]) {
            $mine = [];
            foreach ($left['query'] as [$name, $value]) {
                $mine[$name][] = $value;
            }
            foreach ($mine as $name => $values) {
                $name = (string) $name;
                $isList = str_ends_with($name, '[]');
                $plain = $isList ? substr($name, 0, -2) : $name;
                if ($plain === '' || isset($inputs[$plain])) {
                    continue;
                }
                $try = array_values(array_filter($values, static fn (string $value): bool => $value !== '' && ! Secrecy::isPlaceholder($value)));
                $inputs[$plain] = ['name' => $plain, 'in' => 'query'] + ($isList ? ['many' => 'brackets'] : (count($values) > 1 ? ['many' => 'repeat'] : []))
                    + ($try === [] ? [] : ['try' => $isList || count($values) > 1 ? $try : $try[0]]);
            }
        }

        return array_values($inputs);
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
        $fields = new \stdClass;
        $inputs = [];
        foreach ($request->parts as $part) {
            $name = trim((string) preg_replace('/[\x00-\x1f]+/', '', $part->name)) ?: 'file';
            if (isset($fields->{$name})) {
                continue;
            }
            if ($part->isFile) {
                $inputs[] = ['name' => $name, 'in' => 'body', 'type' => 'file'] + ($part->content === null || strlen($part->content) > 200_000 ? [] : ['try' => (new File($part->filename ?? $name, $part->type ?? 'application/octet-stream', $part->content))->value()]);
                $fields->{$name} = (object) ['input' => $name];
            } elseif (in_array($name, $taken, true)) {
                $fields->{$name} = BodyNode::literally($part->content);
            } else {
                $inputs[] = ['name' => $name, 'in' => 'body'] + ((string) $part->content === '' ? [] : ['try' => (string) $part->content]);
                $fields->{$name} = (object) ['input' => $name];
            }
        }

        return [['as' => 'multipart', 'of' => $fields], $inputs];
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
     * @param  list<array{SeenRequest, array{headers: array<string, string>, query: list<array{string, string}>, cookies: array<string, string>}, array<string, string>}>  $seen
     * @return array<string, string>
     */
    private function common(array $seen): array
    {
        $common = $seen[0][1]['headers'];
        foreach ($seen as [, $left]) {
            $common = array_intersect_assoc($common, $left['headers']);
        }

        return array_filter(array_diff_key($common, ['content-type' => 1, 'idempotency-key' => 1, 'prefer' => 1, 'if-match' => 1]), static fn (string $value): bool => ! Secrecy::isPlaceholder($value));
    }
}
