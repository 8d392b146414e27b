<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\QueryKeep;
use Carbon\CarbonInterface;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Flatten\Plan;
use DeepSpring\Value\Phrase;
use Illuminate\Support\HtmlString;

/**
 * Values as a person reads them.
 */
final class Show
{
    /**
     * What sending a request that writes does: "This changes the loan 8811".
     */
    public static function whatItDoes(EndpointRole $does, string $path, string $which): string
    {
        $thing = (string) preg_replace('/^(?:One|Create an?|Change an?|Delete an?) /', '', EndpointNames::of(EndpointRole::Get, $does === EndpointRole::Call ? (string) preg_replace('~/[^/{}]+/?$~', '', $path) : $path));

        return match ($does) {
            EndpointRole::Create => "This creates a $thing",
            EndpointRole::Update => trim("This changes the $thing $which"),
            EndpointRole::Delete => trim("This deletes the $thing $which"),
            default => trim('This calls “'.basename($path).'”'.($which === '' ? '' : " on the $thing $which")),
        };
    }

    /** What a suggestion is about. */
    public const SUGGESTED = ['records' => 'the records', 'onward' => 'how the list goes on', 'table' => 'the name of the table', 'key' => 'the key', 'columns' => 'the columns', 'inputs' => 'what it is read with'];

    /** What an endpoint does, as a person says it. */
    public const ROLES = ['list' => 'lists', 'get' => 'gets one', 'create' => 'creates', 'update' => 'changes', 'delete' => 'deletes', 'call' => 'calls'];

    /**
     * Why a page is not there: a sentence of ours, or another one where what is told is the framework's.
     */
    public static function reason(\Throwable $thrown, string $otherwise): string
    {
        $said = $thrown->getMessage();

        return $said === '' || str_contains($said, '\\') || str_contains($said, 'route') ? $otherwise : $said;
    }

    /**
     * Where the rows of a table or view are seen.
     */
    public static function rowsOf(KeptTable $table): string
    {
        return $table->is_view ? self::sheet($table->endpoint) : route('tables.show', $table->name);
    }

    /**
     * Where somebody says what an endpoint does: its sheet, or the query whose rows it stands for.
     */
    public static function sheet(Endpoint $endpoint): string
    {
        return $endpoint->source->of_query
            ? route('queries.show', QueryKeep::query()->where('source_id', $endpoint->source_id)->firstOrFail()->query_id)
            : route('endpoints.show', [$endpoint->source, $endpoint]);
    }

    /**
     * A whole number in groups of three.
     */
    public static function number(int|string $number): string
    {
        return self::moments()->number($number);
    }

    /**
     * A moment in the zone and writing of whoever looks on.
     */
    public static function at(CarbonInterface|int|float $moment, bool $seconds = false): string
    {
        return self::moments()->at($moment, $seconds);
    }

    public static function day(CarbonInterface|int|float $moment): string
    {
        return self::moments()->day($moment);
    }

    /**
     * Like "Tuesday 06:10".
     */
    public static function weekday(CarbonInterface $moment): string
    {
        return self::moments()->weekday($moment);
    }

    public static function clock(CarbonInterface|int|float $moment): string
    {
        return self::moments()->clock($moment);
    }

    public static function zone(CarbonInterface|int|float|null $moment = null): string
    {
        return self::moments()->zone($moment);
    }

    private static function moments(): Moments
    {
        return app(Moments::class);
    }

    public static function count(int $number, string $one, ?string $many = null): string
    {
        return self::number($number).' '.($number === 1 ? $one : ($many ?? $one.'s'));
    }

    /**
     * What a plan makes of records, in a few words.
     *
     * @param  array<string, mixed>  $flatten  of a source file
     */
    public static function tables(array $flatten): string
    {
        $branches = count(Plan::tablesIn($flatten)) - 1;

        return self::count(count($flatten['columns']), 'column').($branches === 0 ? '' : ', '.self::count($branches, 'branch table').' for lists inside a record');
    }

    /**
     * The host of an address.
     */
    public static function host(string $address): string
    {
        return (string) preg_replace('~^https?://([^/]+).*$~i', '$1', $address);
    }

    public static function bytes(int $bytes): string
    {
        return Phrase::bytes($bytes);
    }

    public static function duration(int|float $milliseconds): string
    {
        return Phrase::duration($milliseconds);
    }

    public static function ago(?CarbonInterface $moment): string
    {
        if ($moment === null) {
            return 'never';
        }
        $seconds = max(0, (int) $moment->diffInSeconds(now()));

        return match (true) {
            $seconds < 5 => 'just now',
            $seconds < 90 => "$seconds s ago",
            $seconds < 5400 => round($seconds / 60).' min ago',
            $seconds < 129_600 => round($seconds / 3600).' h ago',
            default => self::at($moment),
        };
    }

    /**
     * A value that is there, as plain text.
     */
    public static function value(string $value, string $type): string
    {
        return match ($type) {
            'decimal' => self::moments()->decimal($value),
            'boolean' => $value === '1' ? 'true' : 'false',
            'datetime' => (string) preg_replace('/\.0+$/', '', $value),
            default => $value,
        };
    }

    /**
     * A value of a table cell: null as a dash, an empty text as two quotes, numbers in groups, long
     * text cut with the whole of it on hover.
     */
    public static function cell(?string $value, string $type): HtmlString
    {
        if ($value === null) {
            return new HtmlString('<span class="dim" title="no value (null)">—</span>');
        }
        if ($value === '') {
            return new HtmlString('<span class="dim" title="an empty text">""</span>');
        }
        if ($type === 'decimal') {
            return new HtmlString(self::moments()->grouped($value));
        }
        $shown = self::value($value, $type);
        $short = mb_strimwidth(str_replace(["\r\n", "\n", "\r"], ' ⏎ ', $shown), 0, 120, '…', 'UTF-8');

        return new HtmlString($short === $shown ? e($shown) : '<span title="'.e(mb_strimwidth($value, 0, 2000, '…', 'UTF-8')).'">'.e($short).'</span>');
    }
}
