<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\Place;
use DeepSpring\Ask\RowInputs;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ManyValues;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Value\Unfit;

/**
 * A value between a person, who types it, the table, which keeps it, and the service, which is sent it.
 */
final class CellText
{
    /** Spaces by which people part groups of digits. */
    private const SPACES = [' ', "\u{A0}", "\u{202F}", "\u{2009}"];

    /**
     * What somebody typed or pasted → the text that the database holds for the same value; null for none. Two quotes
     * stand for an empty text.
     *
     * @param  \DateTimeZone|null  $zone  in which moments without an offset are meant; UTC without it
     */
    public static function read(string $typed, Column $column, ?\DateTimeZone $zone = null): string|Unfit|null
    {
        $type = $column->type->name();
        if ($type !== 'text' && trim($typed) === '' || $type === 'text' && $typed === '') {
            return null;
        }
        if ($type === 'text' && $typed === '""') {
            // As an empty text is shown, to tell it from none.
            return '';
        }
        $text = $type === 'text' ? $typed : trim($typed);
        if (in_array($type, ['integer', 'decimal', 'float'], true)) {
            $text = str_replace(self::SPACES, '', $text);
        }
        $read = match (true) {
            $type === 'datetime' => self::moment($text, $zone ?? new \DateTimeZone('UTC')),
            $type === 'boolean' => ['yes' => '1', 'no' => '0'][strtolower($text)] ?? self::converted(strtolower($text), $column),
            $type === 'json' => json_validate($text) ? $text : new Unfit('not JSON'),
            default => self::converted($text, $column),
        };

        return $read instanceof Unfit ? $read : self::kept($read, $type);
    }

    /**
     * Numbers as the database writes them, so that the same value is the same text.
     */
    private static function kept(string $text, string $type): string
    {
        return $type === 'datetime' && ! str_contains($text, '.') ? "$text.000000" : $text;
    }

    private static function converted(string $text, Column $column): string|Unfit
    {
        $type = $column->type;
        $scale = property_exists($type, 'scale') ? ['scale' => $type->scale] : [];
        $decimals = $scale !== [] && str_contains($text, '.') ? strlen(rtrim((string) substr((string) strrchr($text, '.'), 1), '0')) : 0;
        if ($scale !== [] && $decimals > $scale['scale']) {
            return new Unfit("more than {$scale['scale']} decimals");
        }

        return Types::of(['name' => $column->name, 'type' => $type->name()] + $scale, $column->inKey)->convert($text);
    }

    private static function moment(string $text, \DateTimeZone $zone): string|Unfit
    {
        if (preg_match('/^(\d{4}-\d\d-\d\d)(?:[T ](\d\d:\d\d)(:\d\d(?:\.\d{1,6})?)?)?\s*(Z|[+-]\d\d:?\d\d)?$/Di', $text, $part) !== 1) {
            return new Unfit('not a moment like 2031-03-02 14:30');
        }
        [$day, $minute, $second, $offset] = [$part[1], $part[2] ?? '', $part[3] ?? '', $part[4] ?? ''];
        $written = $day.' '.($minute === '' ? '00:00' : $minute).($second === '' ? ':00' : $second);
        $read = date_parse($written);
        if ($read['warning_count'] + $read['error_count'] > 0) {
            return new Unfit('there is no such day or time');
        }
        $moment = new \DateTimeImmutable($written.($offset === '' ? '' : $offset), $zone);

        return $moment->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.u');
    }

    /**
     * Whether two texts of the database are the same value.
     */
    public static function isSame(?string $one, ?string $other, string $type): bool
    {
        if ($one === null || $other === null || $one === $other) {
            return $one === $other;
        }
        $plain = static fn (string $text): string => match ($type) {
            'decimal' => self::withoutZeros($text),
            'datetime' => str_contains($text, '.') ? rtrim(rtrim($text, '0'), '.') : $text,
            'json' => (string) json_encode(json_decode($text), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION),
            default => $text,
        };

        return $plain($one) === $plain($other) || $type === 'float' && (float) $one === (float) $other;
    }

    private static function withoutZeros(string $text): string
    {
        $text = str_contains($text, '.') ? rtrim(rtrim($text, '0'), '.') : $text;

        return $text === '-0' ? '0' : $text;
    }

    /**
     * A value of the database as an input of a request takes it.
     *
     * @return list<string>  none for no value, where the request cannot say that there is none
     */
    public static function sent(?string $kept, Column $column, Input $input): array
    {
        if ($kept === null) {
            return $input->in === Place::Body ? [Input::NOTHING] : [];
        }
        if ($kept === '' && $column->many !== ManyValues::Join) {
            return [$input->in === Place::Body ? Input::EMPTY : ''];
        }
        if ($column->many === ManyValues::Join && $input->many !== null && $column->with !== '') {
            return $kept === '' ? [] : explode($column->with, $kept);
        }
        $readAs = $column->type->readAs ?? 'iso';
        if (in_array($readAs, ['epoch', 'epoch-ms'], true)) {
            $moment = new \DateTimeImmutable($kept, new \DateTimeZone('UTC'));

            return [$readAs === 'epoch' ? $moment->format('U') : $moment->format('U').substr($moment->format('u'), 0, 3)];
        }

        return [(string) RowInputs::written($kept, $column->type->name())];
    }
}
