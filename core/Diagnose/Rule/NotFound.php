<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose\Rule;

use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\Repair;
use DeepSpring\Diagnose\Situation;
use DeepSpring\Diagnose\Sureness;
use DeepSpring\Value\NearestName;

/**
 * 404 and 410 (RFC 9110 §15.5.5, §15.5.11), with what is odd about the path.
 */
final readonly class NotFound implements Rule
{
    public function explain(Situation $situation): ?Diagnosis
    {
        $status = $situation->status;
        if ($status !== 404 && $status !== 410) {
            return null;
        }
        $what = 'There is nothing at '.($situation->path() === '' ? '/' : $situation->path())." ($status).{$situation->said()}";
        $isOneToDelete = $situation->method === 'DELETE' && str_contains((string) ($situation->ask['path'] ?? ''), '{');
        if ($isOneToDelete && $status === 410) {
            return $this->deleted($what, $status);
        }
        if ($status === 410) {
            return new Diagnosis('410', $what, 'It was there once, and is gone for good (410). Look for what took its place in the documentation, often a newer version.', 'ask', Sureness::Certain);
        }

        return $this->doubled($situation, $what) ?? $this->idInQuery($situation, $what) ?? $this->slash($situation, $what) ?? $this->missing($situation, $what) ?? $this->version($situation, $what) ?? $this->sibling($situation, $what)
            ?? ($isOneToDelete ? $this->deleted($what, $status) : null)
            ?? new Diagnosis('404', $what, 'Compare the whole path with the documentation: a doubled or missing part, a version, a slash at the end, an id that does not exist.', 'ask', Sureness::General);
    }

    private function deleted(string $what, int $status): Diagnosis
    {
        return new Diagnosis('404-deleted', $what, "What was to be deleted is not there: it was deleted before, or its key is another one. If that is as good as deleted, add $status to the status codes that are a success.", 'ask', Sureness::Possible);
    }

    private function doubled(Situation $situation, string $what): ?Diagnosis
    {
        $base = trim((string) parse_url($situation->base(), PHP_URL_PATH), '/');
        $own = trim((string) ($situation->ask['path'] ?? ''), '/');
        $last = $base === '' ? '' : basename($base);
        $first = explode('/', $own)[0];
        if ($last === '' || ! ($last === $first || ($base !== $last && str_starts_with("$own/", "$base/")))) {
            return null;
        }
        $both = $base !== $last && str_starts_with("$own/", "$base/") ? $base : $last;
        $short = '/'.ltrim(substr($own, strlen($both)), '/');

        return new Diagnosis('404-doubled', $what, "The base address ends in /$last, and the path begins with it: so it stands there twice.", 'ask', Sureness::Likely, ["/$both/$own"], Repair::set("Use the path $short and try", ['endpoint', 'ask', 'path'], $short));
    }

    private function idInQuery(Situation $situation, string $what): ?Diagnosis
    {
        foreach ($situation->ask['inputs'] ?? [] as $number => $input) {
            if (($input['in'] ?? '') === 'query' && preg_match('/^(?:[a-z_]*_?)id$/i', (string) $input['name']) === 1 && ! str_contains((string) $situation->ask['path'], '{')) {
                $path = rtrim((string) $situation->ask['path'], '/')."/{{$input['name']}}";

                return new Diagnosis('404-id', $what, "The id goes into the query ({$input['name']}). For one record it usually belongs into the path.", 'ask', Sureness::Possible, ["?{$input['name']}="], new Repair("Use $path and try", [['at' => ['endpoint', 'ask', 'path'], 'to' => $path], ['at' => ['endpoint', 'ask', 'inputs', $number, 'in'], 'to' => 'path'], ['at' => ['endpoint', 'ask', 'inputs', $number, 'required'], 'to' => true]]));
            }
        }

        return null;
    }

    private function slash(Situation $situation, string $what): ?Diagnosis
    {
        $path = (string) ($situation->ask['path'] ?? '');
        if ($path === '' || $path === '/') {
            return null;
        }
        if (str_ends_with($path, '/')) {
            return new Diagnosis('404-slash', $what, 'The path ends in a slash. To many services that is another path.', 'ask', Sureness::Possible, [$path], Repair::set('Try without the slash', ['endpoint', 'ask', 'path'], rtrim($path, '/')));
        }
        $says = preg_match('/trailing slash|ends? (?:in|with) a slash|APPEND_SLASH/i', $situation->body) === 1;

        return $says ? new Diagnosis('404-slash', $what, 'The service wants a slash at the end of the path.', 'ask', Sureness::Certain, [$path], Repair::set('Try with a slash', ['endpoint', 'ask', 'path'], "$path/")) : null;
    }

    /**
     * The base address of another environment goes on where this one ends.
     */
    private function missing(Situation $situation, string $what): ?Diagnosis
    {
        $own = rtrim((string) parse_url($situation->base(), PHP_URL_PATH), '/');
        foreach ($situation->bases as $environment => $base) {
            $other = rtrim((string) parse_url($base, PHP_URL_PATH), '/');
            if ($environment !== $situation->environment && $other !== $own && str_starts_with($other, "$own/")) {
                $part = substr($other, strlen($own));
                $new = rtrim($situation->base(), '/').$part;

                return new Diagnosis(preg_match('~^/(?:v\d[\d.]*|api)$~i', $part) === 1 ? '404-version' : '404-missing', $what, "The base address here ends before $part, which it has in $environment.", 'address', Sureness::Likely, [$base], Repair::set("Use $new and test", $situation->baseAt(), $new));
            }
        }

        return null;
    }

    /**
     * Another endpoint of the source has nearly the same path.
     */
    private function sibling(Situation $situation, string $what): ?Diagnosis
    {
        $path = (string) ($situation->ask['path'] ?? '');
        $parts = explode('/', trim($path, '/'));
        foreach ($situation->siblings as $sibling) {
            $first = explode('/', trim($sibling, '/'))[0];
            if ($first !== '' && $first !== $parts[0] && ! str_contains($first, '{') && NearestName::to($parts[0], [$first], 0.34) !== null) {
                $new = '/'.implode('/', [$first, ...array_slice($parts, 1)]);

                return new Diagnosis('404-segment', $what, "Another endpoint of this source begins with /$first, this one with /$parts[0].", 'ask', Sureness::Possible, [$sibling], Repair::set("Use $new and try", ['endpoint', 'ask', 'path'], $new));
            }
        }

        return null;
    }

    private function version(Situation $situation, string $what): ?Diagnosis
    {
        $version = '~/(v\d+(?:\.\d+)*|api)(?=/|$)~i';
        if (preg_match($version, $situation->path()) === 1) {
            return null;
        }
        $found = null;
        foreach ([...array_values($situation->bases), $situation->body] as $text) {
            $found ??= preg_match($version, $text, $part) === 1 ? $part[1] : null;
        }
        if ($found === null) {
            return null;
        }
        $base = rtrim($situation->base(), '/')."/$found";

        return new Diagnosis('404-version', $what, "The path has no version, and /$found occurs elsewhere.", 'address', Sureness::Possible, ["/$found"], Repair::set("Use $base and test", $situation->baseAt(), $base));
    }
}
