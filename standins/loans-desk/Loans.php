<?php

declare(strict_types=1);

namespace StandIns\LoansDesk;

use StandIns\Notebook;
use StandIns\Words;

/**
 * 1,200 loans with 4,000 items, newest first.
 */
final class Loans
{
    public const COUNT = 1200;

    public const NEWEST = 8812;

    /** Items of twelve loans in a row: 40. */
    private const ITEMS = [3, 1, 12, 2, 5, 1, 3, 1, 4, 2, 1, 5];

    public function __construct(private readonly Notebook $notes)
    {
    }

    /**
     * @return list<int> ids, newest first
     */
    public function ids(?string $house, ?string $status): array
    {
        $ids = [];
        $made = $this->made();
        $newest = max(self::NEWEST, ...(array_map(intval(...), array_keys($made)) ?: [0]));
        for ($id = $newest; $id > self::NEWEST - self::COUNT; $id--) {
            $its = $made[$id] ?? [];
            if (($house === null || ($its['house'] ?? $this->house($id)) === $house) && ($status === null || in_array($its['status'] ?? $this->status($id), explode(',', $status), true))) {
                $ids[] = $id;
            }
        }

        return $ids;
    }

    public function has(int $id): bool
    {
        return $id > self::NEWEST - self::COUNT && ($id <= self::NEWEST || isset($this->made()[$id]));
    }

    /**
     * @return array<string, mixed>|null
     */
    public function loan(int $id, bool $items): ?array
    {
        if (! $this->has($id)) {
            return null;
        }
        $loan = $this->invented($id, $items);
        $its = $this->made()[$id] ?? [];
        foreach (array_diff_key($its, ['borrower' => 1, 'objects' => 1, 'insurance' => 1]) as $name => $value) {
            $loan[$name] = $value;
        }
        if (isset($its['borrower'])) {
            [$name, $town, $postCode] = Words::HOUSES[$its['borrower']];
            $loan['borrower'] = ['code' => $its['borrower'], 'name' => $name, 'town' => $town, 'post_code' => $postCode] + $loan['borrower'];
        }
        if (array_key_exists('insurance', $its)) {
            $loan['insurance'] = is_array($its['insurance']) ? $its['insurance'] + ['currency' => 'SMK'] : null;
        } elseif ($id > self::NEWEST) {
            $loan['insurance'] = null;
        }
        if ($items && isset($its['objects'])) {
            $loan['items'] = array_map(static fn (mixed $number): array => ['object' => ['number' => (string) $number, 'title' => Words::pick("title$number", Words::THINGS), 'materials' => []], 'condition' => null, 'value' => null, 'crate' => null], $its['objects']);
        }

        return $loan;
    }

    /**
     * @return array<int, array<string, mixed>> what was created or changed, by id
     */
    private function made(): array
    {
        return $this->notes->read()['made'] ?? [];
    }

    /**
     * @return array<string, mixed>
     */
    private function invented(int $id, bool $items): array
    {
        $out = Words::number("out$id", 0, 500);
        $loan = [
            'id' => $id,
            'ref' => strtoupper(implode('', array_map(static fn (string $word): string => $word[0], explode('-', $this->house($id))))).'-'.$id,
            'register_no' => 9007199254740992 + $id * 7919,
            'status' => $this->status($id),
            'house' => $this->house($id),
            'borrower' => $this->borrower($id),
            'tags' => array_values(array_unique(array_map(static fn (int $n): string => Words::pick("tag$id.$n", ['fragile', 'loan-fee', 'couriered', 'framed', 'climate, strict', 'night move']), range(0, Words::number("tags$id", 0, 3))))),
            'due' => $id % 11 === 0 ? null : gmdate('Y-m-d', (int) gmmktime(0, 0, 0, 1, 5 + $out + Words::number("due$id", 20, 200), 2030)),
            'packed_at' => gmdate('Y-m-d\TH:i:s', gmmktime(8, 0, 0, 1, 1 + $out, 2030) + Words::number("at$id", 0, 36000)).Words::pick("zone$id", ['+01:00', '+02:00', 'Z', '-03:30']),
            'changed' => gmdate('Y-m-d\TH:i:s', gmmktime(8, 0, 0, 1, 2 + $out, 2030) + Words::number("changed$id", 0, 80000)).sprintf('.%03dZ', $id % 1000),
            'fee' => number_format(Words::number("fee$id", 0, 90000) / 100, 2, '.', ''),
        ];
        if ($loan['status'] !== 'open') {
            // Some of them the carrier does not know.
            $loan['consignment'] = 70_001 + Words::number("consignment$id", 0, 920);
        }
        if ($id % 7 !== 0) {
            $loan['insurance'] = $id % 5 === 0 ? null : [
                'policy' => sprintf('%06d', Words::number("policy$id", 1, 99999)),
                'value' => Words::number("value$id", 10000, 9000000) / 100,
                'currency' => 'SMK',
            ];
        }
        if ($id % 3 !== 0) {
            $loan['note'] = $id % 4 === 0 ? '' : Words::pick("note$id", ["Handle with gloves.\nTwo people.", 'Ring before delivery, the "blue" gate.', "=no sum, see file\t4", 'Light below 50 lux']);
        }
        if ($items) {
            $loan['items'] = $this->items($id);
        }

        return $loan;
    }

    private function house(int $id): string
    {
        return Words::pick("house$id", array_keys(Words::HOUSES));
    }

    private function status(int $id): string
    {
        return Words::pick("status$id", ['open', 'open', 'packed', 'out', 'out', 'closed', 'withdrawn']);
    }

    /**
     * @return array<string, mixed>
     */
    private function borrower(int $id): array
    {
        $slug = Words::pick("borrower$id", array_keys(Words::HOUSES));
        [$name, $town, $postCode] = Words::HOUSES[$slug];

        return [
            'code' => $slug, 'name' => $name, 'town' => $town, 'post_code' => $postCode,
            'phone' => '+470'.Words::number("phone$slug", 2000000, 9999999),
            'contact' => ['name' => Words::pick("contact$id", Words::PEOPLE), 'email' => "desk@$slug.example"],
        ];
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function items(int $id): array
    {
        $items = [];
        for ($line = 1; $line <= self::ITEMS[$id % 12]; $line++) {
            $seed = "$id/$line";
            $items[] = [
                'object' => ['number' => sprintf('%04d.%02d', Words::number("no$seed", 1, 9999), $line), 'title' => Words::pick("title$seed", Words::THINGS), 'materials' => [Words::pick("m1$seed", Words::MATERIALS), Words::pick("m2$seed", Words::MATERIALS)]],
                'condition' => Words::pick("condition$seed", ['good', 'fair', 'worn', null]),
                'value' => Words::number("worth$seed", 500, 2000000) / 100,
                'crate' => Words::number("crate$seed", 0, 3) === 0 ? null : 'CR-'.Words::number("crateno$seed", 100, 399),
            ];
        }

        return $items;
    }
}
