<?php

declare(strict_types=1);

namespace App\Evidence;

use App\Models\Environment;
use App\Models\Source;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Answers to requests for single rows, kept so that the same is not asked twice: by a later row, a later run, or
 * another lookup that asks the same of the same source. Nothing with a secret in it comes here.
 */
final class LookupAnswers
{
    /** Answers, and bytes of them, that are written together. */
    private const TOGETHER = 500;

    private const BYTES = 4 << 20;

    /** Seconds after which they are written in any case. */
    private const SECONDS = 3.0;

    /** @var array<string, array<int, array<string, mixed>>> rows to be written, by mark and page */
    private array $waiting = [];

    private int $count = 0;

    private int $bytes = 0;

    private float $written = 0.0;

    /**
     * @param  \DateTimeImmutable  $since  from when on an answer counts as known
     * @param  int  $seconds  that an answer is kept
     */
    public function __construct(private readonly Source $source, private readonly Environment $environment, private readonly \DateTimeImmutable $since, private readonly int $seconds)
    {
    }

    /**
     * @param  list<string>  $marks  16 bytes each
     * @return array<string, array<int, KnownAnswer>> by mark and page
     */
    public function find(array $marks): array
    {
        $known = [];
        if ($marks === []) {
            return $known;
        }
        $rows = DB::table('lookup_answers')->where('source_id', $this->source->id)->where('environment_id', $this->environment->id)
            ->whereIn('mark', $marks)->where('asked_at', '>=', $this->since->format('Y-m-d H:i:s.u'))->get(['mark', 'page', 'status', 'headers', 'body']);
        foreach ($rows as $row) {
            $known[$row->mark][(int) $row->page] = self::answer((int) $row->status, $row->headers, $row->body);
        }
        foreach (array_intersect_key($this->waiting, array_flip($marks)) as $mark => $pages) {
            $known[$mark] = array_map(static fn (array $row): KnownAnswer => self::answer($row['status'], $row['headers'], $row['body']), $pages);
        }

        return $known;
    }

    /**
     * @param  string  $mark  16 bytes
     */
    public function keep(string $mark, int $page, KnownAnswer $answer): void
    {
        $body = (string) gzdeflate($answer->body, 1);
        $now = Carbon::now();
        $this->count += isset($this->waiting[$mark][$page]) ? 0 : 1;
        $this->waiting[$mark][$page] = [
            'source_id' => $this->source->id, 'environment_id' => $this->environment->id, 'mark' => $mark, 'page' => $page, 'status' => $answer->status,
            'headers' => json_encode($answer->headers, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE), 'body' => $body,
            'asked_at' => $now->format('Y-m-d H:i:s.u'), 'until' => $now->copy()->addSeconds($this->seconds)->format('Y-m-d H:i:s'),
        ];
        $this->bytes += strlen($body);
        if ($this->count >= self::TOGETHER || $this->bytes > self::BYTES || microtime(true) - $this->written > self::SECONDS) {
            $this->write();
        }
    }

    /**
     * Whatever waits is safe after it.
     */
    public function write(): void
    {
        if ($this->waiting !== []) {
            DB::table('lookup_answers')->upsert(array_merge(...array_map(array_values(...), array_values($this->waiting))), ['source_id', 'environment_id', 'mark', 'page'], ['status', 'headers', 'body', 'asked_at', 'until']);
        }
        [$this->waiting, $this->count, $this->bytes, $this->written] = [[], 0, 0, microtime(true)];
    }

    private static function answer(int $status, string $headers, string $body): KnownAnswer
    {
        return new KnownAnswer($status, (array) json_decode($headers, true), (string) gzinflate($body));
    }

    /**
     * How many of some are known.
     *
     * @param  list<string>  $marks
     */
    public function count(array $marks): int
    {
        $count = 0;
        foreach (array_chunk($marks, 1000) as $some) {
            $count += DB::table('lookup_answers')->where('source_id', $this->source->id)->where('environment_id', $this->environment->id)
                ->whereIn('mark', $some)->where('page', 1)->where('asked_at', '>=', $this->since->format('Y-m-d H:i:s.u'))->count();
        }

        return $count;
    }

    /**
     * What nobody will ask for any more.
     */
    public static function tidy(): int
    {
        return DB::table('lookup_answers')->where('until', '<', Carbon::now())->limit(50_000)->delete();
    }
}
