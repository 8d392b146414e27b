<?php

declare(strict_types=1);

namespace App\View;

use Carbon\CarbonInterface;
use Illuminate\Support\Carbon;

/**
 * How one person wants times and numbers written. Everything is kept in UTC.
 */
final readonly class Moments
{
    /** Ways to write a day, with an example. */
    public const DATES = ['iso' => '2030-05-03 14:30', 'day-first' => '03.05.2030 14:30', 'month-name' => '3 May 2030, 14:30'];

    /** What stands between groups of three digits, with an example. */
    public const GROUPS = ['space' => '12 345.6', 'comma' => '12,345.6', 'dot' => '12.345,6', 'plain' => '12345.6'];

    private const DAYS = ['iso' => 'Y-m-d', 'day-first' => 'd.m.Y', 'month-name' => 'j M Y'];

    public function __construct(private string $zone = 'UTC', private string $dates = 'iso', private string $numbers = 'space')
    {
    }

    /**
     * @param  CarbonInterface|int|float  $moment  a number is in seconds since 1970
     * @param  bool  $seconds  whether they are written
     */
    public function at(CarbonInterface|int|float $moment, bool $seconds = false): string
    {
        $day = self::DAYS[$this->dates] ?? self::DAYS['iso'];

        return $this->local($moment)->format($day.($this->dates === 'month-name' ? ', ' : ' ').($seconds ? 'H:i:s' : 'H:i'));
    }

    public function day(CarbonInterface|int|float $moment): string
    {
        return $this->local($moment)->format(self::DAYS[$this->dates] ?? self::DAYS['iso']);
    }

    public function weekday(CarbonInterface $moment): string
    {
        return $this->local($moment)->format('l H:i');
    }

    public function clock(CarbonInterface|int|float $moment): string
    {
        return $this->local($moment)->format('H:i:s');
    }

    /**
     * The name of the zone at a moment, where it has to be said.
     */
    public function zone(CarbonInterface|int|float|null $moment = null): string
    {
        return $this->zone === 'UTC' ? 'UTC' : $this->local($moment ?? Carbon::now())->format('T');
    }

    public function number(int|float|string $number): string
    {
        return number_format((float) $number, 0, '.', $this->between());
    }

    /**
     * A decimal as it is kept, every digit of it.
     */
    public function decimal(string $number): string
    {
        if (preg_match('/^(-?)(\d+)(?:\.(\d+))?$/D', $number, $part) !== 1) {
            return $number;
        }

        return $part[1].preg_replace('/\B(?=(?:\d{3})+$)/D', $this->between(), $part[2]).(isset($part[3]) ? ($this->numbers === 'dot' ? ',' : '.').$part[3] : '');
    }

    /**
     * The same, with what stands between groups drawn and not copied, so that a spreadsheet takes a number.
     *
     * @return string HTML
     */
    public function grouped(string $number): string
    {
        if ($this->numbers === 'plain' || preg_match('/^(-?)(\d+)(?:\.(\d+))?$/D', $number, $part) !== 1) {
            return e($number);
        }
        $gap = '<i class="gap '.$this->numbers.'" data-sign="'.(['comma' => ',', 'dot' => '.'][$this->numbers] ?? '').'"></i>';
        $point = $this->numbers === 'dot' ? '<i class="point" data-sign=",">.</i>' : '.';

        return $part[1].preg_replace('/\B(?=(?:\d{3})+$)/D', $gap, $part[2]).(isset($part[3]) ? $point.$part[3] : '');
    }

    private function between(): string
    {
        return ['space' => "\u{2009}", 'comma' => ',', 'dot' => '.', 'plain' => ''][$this->numbers] ?? "\u{2009}";
    }

    private function local(CarbonInterface|int|float $moment): CarbonInterface
    {
        $moment = $moment instanceof CarbonInterface ? $moment->toImmutable() : Carbon::createFromTimestamp($moment)->toImmutable();

        return $moment->setTimezone($this->zone);
    }
}
