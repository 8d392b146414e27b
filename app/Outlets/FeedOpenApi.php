<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Sql\Parameter;

/**
 * Feeds as OpenAPI 3.1 describes them.
 */
final readonly class FeedOpenApi
{
    private const PROBLEM = ['type' => 'object', 'required' => ['type', 'title', 'status', 'detail'], 'properties' => ['type' => ['type' => 'string'], 'title' => ['type' => 'string'], 'status' => ['type' => 'integer'], 'detail' => ['type' => 'string'], 'parameter' => ['type' => 'string']]];

    /** Statuses that are problems, and when. */
    private const PROBLEMS = [
        '400' => 'What was asked cannot be understood.', '401' => 'There is no key, or it opens nothing.', '404' => 'There is no such feed that this key can read.', '406' => 'None of the accepted forms can be given.',
        '410' => 'The rows from which to go on are no longer there.', '429' => 'Too many requests; Retry-After says when there is room again.', '501' => 'The condition cannot be answered here.', '503' => 'The rows cannot be read now.',
    ];

    /**
     * @param  iterable<Feed>  $feeds
     * @param  string  $base  address below which the feeds stand
     * @return array<string, mixed>
     */
    public static function of(iterable $feeds, string $base, string $title): array
    {
        $paths = $rows = [];
        foreach ($feeds as $feed) {
            $table = KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();
            $shape = FeedShape::of($feed, $table);
            $name = str_replace('-', '_', $feed->name)."_v$feed->version";
            $rows[$name] = self::row($shape->columns);
            $paths["/{$feed->path()}"] = ['get' => self::operation($feed, $shape, $name, $table === null ? [] : FeedParameters::of($feed, $table)->all)];
        }

        return [
            'openapi' => '3.1.0', 'info' => ['title' => $title, 'version' => '1'], 'servers' => [['url' => $base]], 'paths' => $paths === [] ? new \stdClass : $paths,
            'security' => [['bearer' => []], ['header' => []], ['basic' => []], ['token' => []]],
            'components' => [
                'schemas' => $rows + ['Problem' => self::PROBLEM],
                'securitySchemes' => ['bearer' => ['type' => 'http', 'scheme' => 'bearer'], 'header' => ['type' => 'apiKey', 'in' => 'header', 'name' => 'X-Api-Key'], 'basic' => ['type' => 'http', 'scheme' => 'basic', 'description' => 'The key as the password, with any user name.'], 'token' => ['type' => 'oauth2', 'description' => 'The client is the beginning of a key, its first ten characters; the secret is the key.', 'flows' => ['clientCredentials' => ['tokenUrl' => url('/oauth/token'), 'scopes' => new \stdClass]]]],
            ],
        ];
    }

    /**
     * @param  array<string, Parameter>  $asked  of the query that it reads
     * @return array<string, mixed>
     */
    private static function operation(Feed $feed, FeedShape $shape, string $name, array $asked): array
    {
        $names = array_map(static fn (FeedColumn $column): string => $column->name, $shape->columns);
        $query = static fn (string $name, string $about, array $schema, array $more = []): array => ['name' => $name, 'in' => 'query', 'description' => $about, 'schema' => $schema] + $more;
        $answers = ['200' => ['description' => 'Rows.', 'headers' => ['ETag' => ['schema' => ['type' => 'string']], 'Last-Modified' => ['schema' => ['type' => 'string']], 'Link' => ['description' => 'The next page (RFC 8288).', 'schema' => ['type' => 'string']]], 'content' => [
            'application/json' => ['schema' => ['type' => 'object', 'required' => ['rows', 'next'], 'properties' => ['rows' => ['type' => 'array', 'items' => ['$ref' => "#/components/schemas/$name"]], 'next' => ['type' => ['string', 'null'], 'format' => 'uri', 'description' => 'Address of the next page.'], 'total' => ['type' => 'integer']]]],
            'application/x-ndjson' => ['schema' => ['type' => 'string']], 'text/csv' => ['schema' => ['type' => 'string']], 'text/tab-separated-values' => ['schema' => ['type' => 'string']],
            'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' => ['schema' => ['type' => 'string', 'contentMediaType' => 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet']],
        ]], '304' => ['description' => 'What was asked for did not change.']];
        foreach (self::PROBLEMS as $status => $when) {
            $answers[(string) $status] = ['description' => $when, 'content' => ['application/problem+json' => ['schema' => ['$ref' => '#/components/schemas/Problem']]]];
        }

        return ['operationId' => $name, 'summary' => $feed->title !== '' ? $feed->title : $feed->name, 'description' => $feed->about, 'parameters' => [
            $query('filter', 'A condition as in $filter of OData.', ['type' => 'string']),
            $query('order', 'Columns to sort by, with commas between them, desc behind one that runs from the end.', ['type' => 'string']),
            $query('fields', 'Columns to answer.', ['type' => 'array', 'items' => ['type' => 'string', 'enum' => $names]], ['style' => 'form', 'explode' => false]),
            $query('search', 'A text that stands in any column.', ['type' => 'string', 'maxLength' => 200]),
            $query('top', 'Rows of a page.', ['type' => 'integer', 'minimum' => 1, 'maximum' => $feed->most, 'default' => $feed->page]),
            $query('after', 'Where to go on, as the page before says it.', ['type' => 'string']),
            $query('total', 'Whether to count all rows.', ['type' => 'string', 'enum' => ['1', 'true']]),
            $query('as', 'The form of the answer.', ['type' => 'string', 'enum' => array_column(FeedForm::cases(), 'value')]),
            ...array_map(static fn (string $name, Parameter $one): array => $query($name, trim("Asked by the query; without it, {$one->default}. {$one->kind->hint()}"), self::schema($one), $one->many ? ['style' => 'form', 'explode' => false] : []), array_map(strval(...), array_keys($asked)), $asked),
        ], 'responses' => $answers];
    }

    /**
     * @return array<string, mixed>
     */
    private static function schema(Parameter $parameter): array
    {
        $one = ['type' => 'string'] + ($parameter->choices === [] ? [] : ['enum' => $parameter->choices]);

        return $parameter->many ? ['type' => 'array', 'items' => $one] : $one;
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @return array<string, mixed>
     */
    private static function row(array $columns): array
    {
        $properties = [];
        foreach ($columns as $column) {
            [$type, $more] = match ($column->type) {
                'integer' => ['integer', ['format' => 'int64']], 'decimal' => ['number', []], 'float' => ['number', ['format' => 'double']], 'boolean' => ['boolean', []],
                'date' => ['string', ['format' => 'date']], 'datetime' => ['string', ['format' => 'date-time']], 'time' => ['string', ['format' => 'time']], 'uuid' => ['string', ['format' => 'uuid']],
                'json' => [null, []], default => ['string', []],
            };
            $about = implode(' · ', array_filter([$column->title, $column->unit, $column->about]));
            $properties[$column->name] = ($type === null ? [] : ['type' => $column->isKey ? $type : [$type, 'null']]) + $more + ($about === '' ? [] : ['description' => $about]);
        }

        return ['type' => 'object', 'properties' => array_map(static fn (array $one): array|\stdClass => $one === [] ? new \stdClass : $one, $properties)];
    }
}
