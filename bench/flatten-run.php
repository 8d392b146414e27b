<?php

declare(strict_types=1);

/*
 * One part of the benchmark of flattening, in a process of its own. Prints JSON.
 */

use App\Reservoir\MariaDb\MariaDbStagedTables;
use Bench\LoanPages;
use Bench\WideLoans;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Answer\DecodingLoss;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';

gc_disable();
$narrow = ['table' => 'bench_loans', 'key' => ['loan_id'], 'columns' => [
    ['name' => 'loan_id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'status', 'from' => '$.status'], ['name' => 'borrower', 'from' => '$.borrower.name'],
    ['name' => 'post_code', 'from' => '$.borrower.post_code'], ['name' => 'phone', 'from' => '$.borrower.phone'], ['name' => 'policy', 'from' => '$.insurance.policy'], ['name' => 'cover', 'from' => '$.insurance.value', 'type' => 'decimal', 'scale' => 2],
    ['name' => 'due', 'from' => '$.due', 'type' => 'date'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'fragile', 'from' => '$.fragile', 'type' => 'boolean'], ['name' => 'note', 'from' => '$.note'],
]];

$compare = static function (string $body, Closure $hand, array $flatten): array {
    $flattener = new Flattener(Plan::of($flatten));
    $answer = AnswerDefinition::of(['records' => '$.data[*]']);
    $ours = static fn (): array => $flattener->flatten($answer->pageOf($answer->read($body, 'application/json')))->rows;
    $cells = static fn (array $tables): array => array_map(static fn (array $rows): array => array_map(static fn (array $row): array => array_map(static fn (mixed $cell): ?string => $cell === null ? null : (is_float($cell) || is_int($cell) ? (string) json_encode($cell) : (string) $cell), $row), $rows), $tables);
    if ($cells($hand($body)) !== $cells($ours())) {
        throw new RuntimeException('The two do not make the same rows.');
    }
    $count = array_sum(array_map(static fn (array $rows): int => count($rows) * count($rows[0] ?? []), $ours()));
    $ratios = $byHand = $byUs = [];
    // Both in turn many times within a round, so that what else the machine does meets both.
    for ($round = 0; $round < 15; $round++) {
        $spent = [0, 0];
        for ($time = 0; $time < 60; $time++) {
            $from = hrtime(true);
            $hand($body);
            $middle = hrtime(true);
            $ours();
            $to = hrtime(true);
            $spent[0] += $middle - $from;
            $spent[1] += $to - $middle;
        }
        $ratios[] = $spent[1] / $spent[0];
        $byHand[] = 60 * strlen($body) / 1e6 / ($spent[0] / 1e9);
        $byUs[] = 60 * strlen($body) / 1e6 / ($spent[1] / 1e9);
    }
    sort($ratios);
    sort($byHand);
    sort($byUs);

    return ['middle' => $ratios[7], 'least' => $ratios[0], 'most' => $ratios[14], 'rounds' => 15, 'hand' => $byHand[7], 'ours' => $byUs[7], 'cells' => $count];
};

echo json_encode(match ($argv[1] ?? '') {
    'narrow' => $compare((string) json_encode(['data' => array_map(LoanPages::record(...), range(1, 1000))], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), static function (string $body): array {
        $rows = [];
        foreach (json_decode($body, true)['data'] as $loan) {
            $insurance = $loan['insurance'];
            $rows[] = [$loan['id'], $loan['ref'], $loan['status'], $loan['borrower']['name'], $loan['borrower']['post_code'], $loan['borrower']['phone'], $insurance['policy'] ?? null, $insurance['value'] ?? null, $loan['due'] ?? null, substr($loan['changed'], 0, 10).' '.substr($loan['changed'], 11, 8), $loan['fragile'] ? '1' : '0', $loan['note']];
        }

        return [$rows];
    }, $narrow),
    'wide' => $compare(WideLoans::page(300), WideLoans::byHand(), WideLoans::flatten()),
    'look' => (static function (): array {
        // Several pages that are alike; with a member that few records have; with one record whose members stand in
        // another order.
        $pages = ['alike' => [], 'with a rare member' => [], 'with one record otherwise' => []];
        for ($page = 0; $page < 8; $page++) {
            $records = array_map(LoanPages::record(...), range(1000 * $page + 1, 1000 * $page + 1000));
            $pages['alike'][] = (string) json_encode(['data' => $records], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
            $pages['with a rare member'][] = (string) json_encode(['data' => array_map(static fn (array $record): array => $record['id'] % 200 === 17 ? array_slice($record, 0, 5) + ['seal' => 'broken'] + $record : $record, $records)], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
            $records[500] = array_reverse($records[500], true);
            $pages['with one record otherwise'][] = (string) json_encode(['data' => $records], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
        }

        return array_map(static function (array $bodies): array {
            $rounds = [];
            for ($round = 0; $round < 15; $round++) {
                $spent = ['decode' => 0, 'numbers' => 0, 'all' => 0];
                for ($time = 0; $time < 5; $time++) {
                    foreach ($bodies as $body) {
                        $from = hrtime(true);
                        $document = JsonDecoder::decode($body);
                        $decoded = hrtime(true);
                        Digits::mayBeUnusual($body);
                        $numbers = hrtime(true);
                        $loss = DecodingLoss::of($body, $document);
                        $spent['all'] += hrtime(true) - $numbers;
                        $spent['numbers'] += $numbers - $decoded;
                        $spent['decode'] += $decoded - $from;
                        if ($loss->members || $loss->numbers) {
                            throw new RuntimeException('Something was found where nothing is.');
                        }
                    }
                }
                $rounds[] = [100 * $spent['all'] / $spent['decode'], 100 * $spent['numbers'] / $spent['decode']];
            }
            sort($rounds);

            return ['all' => $rounds[7][0], 'least' => $rounds[0][0], 'most' => $rounds[14][0], 'numbers' => $rounds[7][1]];
        }, $pages);
    })(),
    'proposal' => (static function (): array {
        $records = [];
        for ($id = 1; $id <= 5000; $id++) {
            $one = ['id' => $id];
            for ($group = 1; $group <= 10; $group++) {
                for ($field = 1; $field <= 30; $field++) {
                    $one["group$group"]["field$field"] = match ($field % 6) {
                        0 => $id * $field,
                        1 => 'text '.($id % 50)." of $field",
                        2 => sprintf('2031-%02d-%02d', $id % 12 + 1, $id % 28 + 1),
                        3 => $id % 3 === 0 ? null : $id / 100,
                        4 => $id % 2 === 0,
                        default => gmdate('Y-m-d\TH:i:s\Z', 1893456000 + $id * 61),
                    };
                }
            }
            $records[] = $one;
        }
        $records = json_decode((string) json_encode($records));
        $seconds = [];
        for ($round = 0; $round < 3; $round++) {
            $from = microtime(true);
            $proposal = (new Proposer)->propose($records, 'loans');
            $seconds[] = microtime(true) - $from;
        }
        sort($seconds);

        return ['seconds' => $seconds[1], 'paths' => count($proposal->flatten['columns'])];
    })(),
    'huge' => (static function () use ($argv, $narrow): array {
        $time = static function (bool $flatten) use ($argv, $narrow): array {
            $file = fopen($argv[2], 'rb');
            $stream = JsonRecords::of(static fn (int $bytes): string => (string) fread($file, $bytes), JsonPath::parse('$.data[*]'));
            $flattener = new Flattener(Plan::of($narrow));
            $from = microtime(true);
            $count = 0;
            foreach ($stream->batches() as $batch) {
                $count += $flatten ? count($flattener->flatten($batch)->rows[0]) : count($batch->values);
            }

            return [filesize($argv[2]) / 1e6 / (microtime(true) - $from), $count];
        };
        [$read, $records] = $time(false);
        [$rows] = $time(true);

        return ['read' => $read, 'rows' => $rows, 'records' => $records, 'memory' => memory_get_peak_usage(true)];
    })(),
    'others' => (static function () use ($argv, $narrow): array {
        $app = require __DIR__.'/../bootstrap/app.php';
        $app->make(Kernel::class)->bootstrap();
        $keeper = DB::connection('keeper');
        $folder = dirname($argv[2]);
        $from = microtime(true);
        $staging = new MariaDbStagedTables($keeper, 'deep_spring_data', 'bench', Plan::of($narrow), $folder);
        $staging->begin();
        $flattener = new Flattener(Plan::of($narrow));
        $file = fopen($argv[2], 'rb');
        foreach (JsonRecords::of(static fn (int $bytes): string => (string) fread($file, $bytes), JsonPath::parse('$[*]'))->batches() as $batch) {
            $staging->add($flattener->flatten($batch));
            if ($staging->isDue()) {
                $staging->commit([]);
            }
        }
        $staging->finish();
        $staging->putInPlace();
        $staging->end();
        $ours = microtime(true) - $from;
        $result = ['ours, types checked' => ['seconds' => $ours]];
        $load = static function (string $csv) use ($keeper): void {
            $keeper->statement('CREATE OR REPLACE TABLE deep_spring_data.bench_other LIKE deep_spring_data.bench_loans');
            $keeper->unprepared('LOAD DATA LOCAL INFILE '.$keeper->getPdo()->quote($csv)." INTO TABLE deep_spring_data.bench_other CHARACTER SET utf8mb4 FIELDS TERMINATED BY ',' OPTIONALLY ENCLOSED BY '\"' ESCAPED BY ''");
        };
        $tools = [
            'jq' => [trim((string) shell_exec('command -v jq')), "jq -r '.[] | [.id, .ref, .status, .borrower.name, .borrower.post_code, .borrower.phone, .insurance.policy, .insurance.value, .due, (.changed | sub(\"T\"; \" \") | sub(\"Z\"; \"\")), (if .fragile then 1 else 0 end), .note] | @csv' %s > %s"],
            'pandas' => [trim((string) shell_exec('python3 -c "import pandas" 2>/dev/null && echo yes || (/usr/bin/python3 -c "import pandas" 2>/dev/null && echo yes)')), '/usr/bin/python3 -c '.escapeshellarg("import json, sys, pandas as pd\nframe = pd.json_normalize(json.load(open(sys.argv[1])))\nframe['changed'] = frame['changed'].str.slice(0, 10) + ' ' + frame['changed'].str.slice(11, 19)\nframe['fragile'] = frame['fragile'].astype(int)\nframe[['id', 'ref', 'status', 'borrower.name', 'borrower.post_code', 'borrower.phone', 'insurance.policy', 'insurance.value', 'due', 'changed', 'fragile', 'note']].to_csv(sys.argv[2], index=False, header=False, quoting=2)").' %s %s'],
        ];
        foreach ($tools as $name => [$is, $command]) {
            if ($is === '') {
                continue;
            }
            $csv = "$folder/$name.csv";
            $from = microtime(true);
            exec(sprintf($command, escapeshellarg($argv[2]), escapeshellarg($csv)), $out, $code);
            $load($csv);
            $seconds = microtime(true) - $from;
            $count = (int) ($keeper->selectOne('SELECT COUNT(*) AS n FROM deep_spring_data.bench_other')->n ?? 0);
            if ($code !== 0 || $count !== 200_000) {
                throw new RuntimeException("$name made $count rows.");
            }
            $result["$name, then LOAD DATA"] = ['seconds' => $seconds, 'ratio' => $seconds / $ours];
            unlink($csv);
        }
        $keeper->statement('DROP TABLE IF EXISTS deep_spring_data.bench_other, deep_spring_data.bench_loans');

        return $result;
    })(),
    default => throw new RuntimeException('There is no such part.'),
});
