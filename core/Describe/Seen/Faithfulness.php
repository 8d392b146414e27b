<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Seen;

use DeepSpring\Access\GivenSecrets;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\Schemes;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\Input;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\Place;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Value\JsonText;
use Psr\Http\Message\RequestInterface;

/**
 * Builds what was made of a request, with the values that were seen, and compares it with that request.
 * What differs on purpose is none of it: how an address or a form is percent-encoded, that pairs of one name
 * stand together and secrets come last, blanks in JSON, blanks between cookies and which comes first, the boundary of a form, and
 * the headers that are set whenever something is sent.
 */
final readonly class Faithfulness
{
    /**
     * @param  array<string, string>  $common  headers that go to the source
     */
    public function __construct(private string $base, private array $common, private Secrecy $secrecy)
    {
    }

    /**
     * @param  array<string, mixed>  $ask  of an endpoint
     * @return array<string, string> what differs (method, path, query, headers, body) → a sentence
     */
    public function differences(SeenRequest $seen, array $ask): array
    {
        if ($seen->missing !== []) {
            return [];
        }
        $definition = AskDefinition::of($ask);
        $schemes = array_values(Schemes::all($this->secrecy->access));
        // Secrets and parts of the path that are still to be filled in stand for themselves.
        $secrets = $this->secrecy->secrets + array_fill_keys(array_merge([], ...array_map(static fn (Scheme $scheme): array => $scheme->secretNames(), $schemes)), 'to-be-given');
        $given = $definition->tryValues();
        $unfilled = array_filter($definition->inputs, static fn (Input $input): bool => $input->in === Place::Path && ! isset($given[$input->name]));
        foreach ($unfilled as $input) {
            $given[$input->name] = ['to-be-given'];
        }
        try {
            $built = (new RequestBuilder($this->base, $this->common, [], $schemes))->build($definition, $given, new GivenSecrets($secrets));
        } catch (InvalidInput|UnusableSecret|\InvalidArgumentException $fault) {
            return ['values' => 'It cannot be sent with the values that it came with: '.lcfirst($fault->getMessage())];
        }

        return array_filter([
            'method' => $built->getMethod() === $seen->method ? null : "It is sent with {$built->getMethod()}, not with {$seen->method}.",
            'path' => $unfilled !== [] || self::path($built->getUri()->getPath()) === self::path($seen->path()) ? null : 'Its path is sent as '.$built->getUri()->getPath().', not as '.$seen->path().'.',
            'query' => $this->query($seen, $built),
            'body' => $this->body($seen, $built),
        ]);
    }

    private static function path(string $path): string
    {
        return rawurldecode($path === '' ? '/' : $path);
    }

    private function query(SeenRequest $seen, RequestInterface $built): ?string
    {
        $wanted = array_map(self::pair(...), $seen->query());
        $sent = array_map(self::pair(...), (new SeenRequest('GET', (string) $built->getUri(), []))->query());
        $missing = self::without($wanted, $sent);
        $added = self::without($sent, $wanted);

        return $missing === [] && $added === [] ? null : 'Its query is not sent as it was: '.implode(' and ', array_filter([$missing === [] ? '' : 'without '.implode(', ', $missing), $added === [] ? '' : 'with '.implode(', ', $added)])).'.';
    }

    /**
     * @param  array{string, string, bool}  $pair
     */
    private static function pair(array $pair): string
    {
        return $pair[0].($pair[2] ? '' : "=$pair[1]");
    }

    /**
     * @param  list<string>  $all
     * @param  list<string>  $those
     * @return list<string>
     */
    private static function without(array $all, array $those): array
    {
        foreach ($those as $one) {
            $at = array_search($one, $all, true);
            if ($at !== false) {
                unset($all[$at]);
            }
        }

        return array_values($all);
    }

    private function body(SeenRequest $seen, RequestInterface $built): ?string
    {
        if ($seen->method === 'HEAD') {
            return null;
        }
        $sent = (string) $built->getBody();
        if ($seen->parts !== null) {
            preg_match('/boundary=(\S+)/', $built->getHeaderLine('content-type'), $boundary);
            $count = isset($boundary[1]) ? substr_count($sent, "--$boundary[1]\r\n") : 0;

            return $count === count($seen->parts) ? null : "Of its form $count of ".count($seen->parts).' parts have a value to try with. Fill in the others.';
        }
        $type = strtolower(trim(explode(';', $built->getHeaderLine('content-type'))[0]));
        $isSame = $sent === $seen->body
            || str_contains($type, 'json') && JsonText::canonical($sent) === JsonText::canonical($seen->body)
            || $type === 'application/x-www-form-urlencoded' && self::form($sent) === self::form($seen->body);

        return $isSame ? null : 'Its body is not sent as it was.';
    }

    /**
     * Fields by name, in the order of the names: fields of the same name are sent one after the other.
     *
     * @return array<string, list<string|null>>
     */
    private static function form(string $body): array
    {
        $fields = [];
        foreach (explode('&', $body) as $pair) {
            $parts = array_map(urldecode(...), explode('=', $pair, 2));
            $fields["=$parts[0]"][] = $parts[1] ?? null;
        }

        return $fields;
    }
}
