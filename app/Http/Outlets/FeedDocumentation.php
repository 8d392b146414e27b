<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Models\Feed;
use App\Models\KeptTable;
use App\Outlets\FeedParameters;
use App\Outlets\FeedShape;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\TermKind;
use DeepSpring\Sql\Parameter;

/**
 * What a reader of a feed has to know: its columns, what can be asked, and how, in some languages.
 */
final readonly class FeedDocumentation
{
    public const PARAMETERS = [
        'filter' => 'rows for which a condition holds, in the language of OData: comparisons with eq, ne, gt, ge, lt, le and in; and, or, not; functions such as contains, startswith, tolower, year, date and now',
        'order' => 'columns to sort by, with commas between them, desc behind one that runs from the end',
        'fields' => 'columns to answer, with commas between them',
        'search' => 'a text that stands in any column, whatever its letter case',
        'top' => 'rows of a page',
        'after' => 'where to go on: part of the address under next, to be taken as it is',
        'total' => '1 to be told how many rows there are in all',
        'as' => 'the form: json, ndjson, csv, tsv or xlsx; an ending such as .csv or the header Accept says the same',
    ];

    public FeedShape $shape;

    public string $address;

    /** @var array<string, string> what else can be asked: parameters of the query, and what they are */
    public array $asked;

    /** @var list<string> names of ways to other feeds */
    public array $ways;

    public function __construct(private Feed $feed, ?KeptTable $table)
    {
        $this->ways = array_column($feed->links, 'name');
        $this->asked = $table === null ? [] : array_map(static fn (Parameter $one): string => "{$one->kind->label()}".($one->many ? ', several with commas between them' : '')."; without it, $one->default".($one->choices === [] ? ($one->kind->hint() === '' ? '' : ' ('.$one->kind->hint().')') : ', of '.implode(', ', array_slice($one->choices, 0, 20))), FeedParameters::of($feed, $table)->all);
        $this->shape = FeedShape::of($feed, $table);
        $this->address = route('feeds.version', ['version' => $feed->version, 'file' => $feed->name]);
    }

    /**
     * A condition that this feed understands.
     */
    public function example(): string
    {
        foreach ($this->shape->columns as $column) {
            $written = match ($column->kind()) {
                TermKind::Date => "$column->name ge 2031-01-01",
                TermKind::Moment => "$column->name ge 2031-01-01T00:00:00Z",
                TermKind::Number => "$column->name gt 100",
                default => null,
            };
            if ($written !== null && ! $column->isKey) {
                return $written;
            }
        }
        $first = $this->shape->columns[0] ?? null;

        return $first === null ? '' : "$first->name ne null";
    }

    public static function type(FeedColumn $column): string
    {
        return match ($column->type) {
            'integer' => 'whole number', 'decimal' => 'number, '.($column->scale ?? 0).' digits behind the point', 'float' => 'floating-point number', 'boolean' => 'true or false',
            'date' => 'day, like 2031-03-02', 'datetime' => 'moment in UTC, like 2031-03-02T09:30:00Z', 'time' => 'time of day, like 09:30:00', 'uuid' => 'GUID', 'json' => 'JSON', default => 'text',
        };
    }

    /**
     * Programs that read all rows, by their language; the key stands in the environment as FEED_KEY.
     *
     * @return array<string, string>
     */
    public function programs(): array
    {
        return array_map(fn (string $text): string => strtr($text, ['ADDRESS' => $this->address]), [
            'curl' => <<<'TEXT'
                curl -H "Authorization: Bearer $FEED_KEY" "ADDRESS?top=5"
                TEXT,
            'Python' => <<<'TEXT'
                import json
                import os
                import urllib.request

                address = "ADDRESS?top=1000"
                while address:
                    request = urllib.request.Request(address, headers={"Authorization": "Bearer " + os.environ["FEED_KEY"]})
                    with urllib.request.urlopen(request) as answer:
                        page = json.load(answer)
                    for row in page["rows"]:
                        print(json.dumps(row))
                    address = page["next"]
                TEXT,
            'R' => <<<'TEXT'
                rows <- read.csv(url("ADDRESS.csv", headers = c(Authorization = paste("Bearer", Sys.getenv("FEED_KEY")))))
                str(rows)
                TEXT,
            'PHP' => <<<'TEXT'
                <?php
                $address = 'ADDRESS?top=1000';
                $context = stream_context_create(['http' => ['header' => 'Authorization: Bearer '.getenv('FEED_KEY')]]);
                while ($address !== null) {
                    $page = json_decode(file_get_contents($address, false, $context), true, 512, JSON_THROW_ON_ERROR);
                    foreach ($page['rows'] as $row) {
                        echo json_encode($row), "\n";
                    }
                    $address = $page['next'];
                }
                TEXT,
            'JavaScript' => <<<'TEXT'
                let address = "ADDRESS?top=1000";
                while (address) {
                  const answer = await fetch(address, { headers: { Authorization: `Bearer ${process.env.FEED_KEY}` } });
                  if (!answer.ok) throw new Error((await answer.json()).detail);
                  const page = await answer.json();
                  for (const row of page.rows) console.log(JSON.stringify(row));
                  address = page.next;
                }
                TEXT,
        ]);
    }
}
