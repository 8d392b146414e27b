<?php

declare(strict_types=1);

namespace Bench;

/**
 * 200,000 loan records in pages of 1,000, about 80 MB of JSON, the same every time.
 */
final class LoanPages
{
    public const RECORDS = 200_000;

    public const PAGE = 1000;

    public static function make(string $folder): int
    {
        if (! is_dir($folder)) {
            mkdir($folder, 0700, true);
        }
        $bytes = 0;
        for ($page = 1; $page <= self::RECORDS / self::PAGE; $page++) {
            $file = "$folder/$page.json";
            if (! is_file($file)) {
                $records = array_map(self::record(...), range(($page - 1) * self::PAGE + 1, $page * self::PAGE));
                file_put_contents($file, json_encode(['data' => $records, 'page' => $page, 'pages' => self::RECORDS / self::PAGE], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));
            }
            $bytes += (int) filesize($file);
        }

        return $bytes;
    }

    /**
     * @return array<string, mixed>
     */
    public static function record(int $id): array
    {
        $houses = ['North Quay Museum', 'Tidewater Hall', 'The Long Gallery', 'Harrow Mill', 'Caldmouth Works', 'Ødegård House'];

        return [
            'id' => $id, 'ref' => "NQ-$id", 'status' => ['open', 'packed', 'out', 'closed'][$id % 4],
            'borrower' => ['name' => $houses[$id % 6], 'town' => 'Osmery', 'post_code' => sprintf('%05d', $id % 40000), 'phone' => '+4702'.(100000 + $id % 900000)],
            'insurance' => $id % 5 === 0 ? null : ['policy' => sprintf('%06d', $id), 'value' => ($id * 37 % 9000000) / 100, 'currency' => 'SMK'],
            'due' => $id % 11 === 0 ? null : gmdate('Y-m-d', 1893456000 + $id % 600 * 86400),
            'changed' => gmdate('Y-m-d\TH:i:s\Z', 1893456000 + $id * 61),
            'fragile' => $id % 3 === 0,
            'note' => $id % 4 === 0 ? "Handle with gloves.\nTwo people." : 'Light below 50 lux, ring before delivery',
            'courier' => ['name' => 'Łucja Wend', 'van' => 'V-'.($id % 90)],
        ];
    }
}
