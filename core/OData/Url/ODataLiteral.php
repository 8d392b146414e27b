<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

use Brick\Math\BigInteger;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\ODataVersion;

/**
 * Values as filters, keys and parameters of functions write them: OData 4.01 ABNF `primitiveLiteral`;
 * for versions 2 and 3 [URI conventions] §2.2.2 Abstract Type System. What is written is not yet
 * percent-encoded.
 */
final readonly class ODataLiteral
{
    public function __construct(private ODataVersion $version, private ?Model $model = null)
    {
    }

    /**
     * @param  string  $value  as a person types it: no quotes, times in ISO 8601
     * @param  string  $type  like Edm.String, or an enumeration
     *
     * @throws InvalidLiteral
     */
    public function write(string $value, string $type): string
    {
        if ($value === 'null') {
            return 'null';
        }
        $members = $this->model?->members($type);
        if ($members !== null) {
            return $this->enum($value, $type, $members);
        }
        $type = $this->model?->primitive($type) ?? $type;

        return $this->version->isV4() ? $this->four($value, $type) : $this->two($value, $type);
    }

    /**
     * @throws InvalidLiteral
     */
    private function four(string $value, string $type): string
    {
        return match ($type) {
            'Edm.String' => self::quoted($value),
            'Edm.Date' => self::fits($value, $type, '/^-?\d{4,}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/D', 'a day like 2030-05-01'),
            'Edm.DateTimeOffset' => $this->moment($value, $type),
            'Edm.TimeOfDay' => self::fits($value, $type, '/^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d{1,12})?)?$/D', 'a time like 09:30:00'),
            'Edm.Duration' => "duration'".self::fits($value, $type, '/^-?P(?=.)(\d+D)?(T(?=.)(\d+H)?(\d+M)?(\d+(\.\d+)?S)?)?$/D', 'a duration like P1DT12H')."'",
            'Edm.Binary' => "binary'".strtr(self::fits($value, $type, '~^[A-Za-z0-9+/_-]*={0,2}$~D', 'Base64'), '+/', '-_')."'",
            'Edm.Guid' => self::guid($value, $type),
            default => $this->number($value, $type),
        };
    }

    /**
     * @throws InvalidLiteral
     */
    private function two(string $value, string $type): string
    {
        return match ($type) {
            'Edm.String' => self::quoted($value),
            'Edm.DateTime' => "datetime'".$this->local($value, $type)."'",
            'Edm.DateTimeOffset' => "datetimeoffset'".$this->moment($value, $type)."'",
            'Edm.Time' => "time'".self::fits(self::asDuration($value), $type, '/^PT(?=.)(\d+H)?(\d+M)?(\d+(\.\d+)?S)?$/D', 'a time like 09:30 or PT9H30M')."'",
            'Edm.Guid' => "guid'".self::guid($value, $type)."'",
            'Edm.Binary' => "X'".strtoupper(bin2hex((string) base64_decode(self::fits($value, $type, '~^[A-Za-z0-9+/]*={0,2}$~D', 'Base64'), true)))."'",
            'Edm.Int64' => self::long($value, $type).'L',
            'Edm.Decimal' => self::fits($value, $type, '/^-?\d+(\.\d+)?$/D', 'a number').'M',
            'Edm.Double' => self::fits($value, $type, '/^-?\d+(\.\d+)?([eE][+-]?\d+)?$/D', 'a number').'d',
            'Edm.Single' => self::fits($value, $type, '/^-?\d+(\.\d+)?([eE][+-]?\d+)?$/D', 'a number').'f',
            default => $this->number($value, $type),
        };
    }

    /**
     * @throws InvalidLiteral
     */
    private function number(string $value, string $type): string
    {
        return match ($type) {
            'Edm.Boolean' => self::fits($value, $type, '/^(?:true|false)$/D', 'true or false'),
            'Edm.Byte' => self::whole($value, $type, 0, 255),
            'Edm.SByte' => self::whole($value, $type, -128, 127),
            'Edm.Int16' => self::whole($value, $type, -32768, 32767),
            'Edm.Int32' => self::whole($value, $type, -2147483648, 2147483647),
            'Edm.Int64' => self::long($value, $type),
            'Edm.Decimal' => self::fits($value, $type, '/^[+-]?\d+(\.\d+)?([eE][+-]?\d+)?$/D', 'a number'),
            'Edm.Single', 'Edm.Double' => self::fits($value, $type, '/^(?:[+-]?\d+(\.\d+)?([eE][+-]?\d+)?|-?INF|NaN)$/D', 'a number'),
            default => throw InvalidLiteral::cannotBeWritten($type),
        };
    }

    /**
     * @param  array<string, int>  $members
     *
     * @throws InvalidLiteral
     */
    private function enum(string $value, string $type, array $members): string
    {
        foreach (explode(',', $value) as $name) {
            if (! isset($members[trim($name)]) && ! in_array($name, array_map(strval(...), $members), true)) {
                throw InvalidLiteral::isNoMember($name, $type, array_map(strval(...), array_keys($members)));
            }
        }

        return $type.self::quoted($value);
    }

    /**
     * @throws InvalidLiteral
     */
    private function moment(string $value, string $type): string
    {
        $value = self::fits(strtr($value, ' ', 'T'), $type, '/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])(T([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d{1,12})?)?(Z|[+-]\d\d:\d\d)?)?$/D', 'a time like 2030-05-01T09:30:00Z');

        return match (true) {
            ! str_contains($value, 'T') => $value.'T00:00:00Z',
            preg_match('/(?:Z|[+-]\d\d:\d\d)$/D', $value) === 1 => $value,
            default => $value.'Z',
        };
    }

    /**
     * A time without an offset; one that is given has to be UTC.
     *
     * @throws InvalidLiteral
     */
    private function local(string $value, string $type): string
    {
        $value = self::fits(strtr($value, ' ', 'T'), $type, '/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])(T([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d{1,7})?)?Z?)?$/D', 'a time like 2030-05-01T09:30:00, without an offset');
        $value = rtrim($value, 'Z');

        return str_contains($value, 'T') ? $value : $value.'T00:00:00';
    }

    private static function asDuration(string $value): string
    {
        return preg_match('/^(\d\d):(\d\d)(?::(\d\d))?$/D', $value, $part) === 1 ? 'PT'.(int) $part[1].'H'.(int) $part[2].'M'.(isset($part[3]) ? (int) $part[3].'S' : '') : $value;
    }

    /**
     * @throws InvalidLiteral
     */
    private static function guid(string $value, string $type): string
    {
        return self::fits($value, $type, '/^[0-9a-fA-F]{8}-(?:[0-9a-fA-F]{4}-){3}[0-9a-fA-F]{12}$/D', 'a GUID');
    }

    /**
     * A quote inside is doubled.
     */
    private static function quoted(string $value): string
    {
        return "'".str_replace("'", "''", $value)."'";
    }

    /**
     * @throws InvalidLiteral
     */
    private static function whole(string $value, string $type, int $least, int $most): string
    {
        self::fits($value, $type, '/^[+-]?\d{1,10}$/D', 'a whole number');

        return (int) $value >= $least && (int) $value <= $most ? $value : throw InvalidLiteral::isNo($value, $type, "between $least and $most");
    }

    /**
     * @throws InvalidLiteral
     */
    private static function long(string $value, string $type): string
    {
        self::fits($value, $type, '/^[+-]?\d{1,40}$/D', 'a whole number');
        $number = BigInteger::of($value);

        return $number->isGreaterThanOrEqualTo(PHP_INT_MIN) && $number->isLessThanOrEqualTo(PHP_INT_MAX) ? $value : throw InvalidLiteral::isNo($value, $type, 'between '.PHP_INT_MIN.' and '.PHP_INT_MAX);
    }

    /**
     * @throws InvalidLiteral
     */
    private static function fits(string $value, string $type, string $pattern, string $expected): string
    {
        return preg_match($pattern, $value) === 1 ? $value : throw InvalidLiteral::isNo($value, $type, $expected);
    }
}
