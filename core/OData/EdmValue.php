<?php

declare(strict_types=1);

namespace DeepSpring\OData;

use DeepSpring\OData\Url\InvalidLiteral;
use DeepSpring\OData\Url\ODataLiteral;
use DeepSpring\Value\JsonText;

/**
 * How the values of an input are written for a service: as a literal in an address, and as JSON in a
 * body.
 */
final readonly class EdmValue
{
    public function __construct(public string $type, public ODataVersion $version)
    {
    }

    /**
     * @throws InvalidLiteral
     */
    public function literal(string $value): string
    {
        // Without the metadata, a type that is none of the primitive ones is an enumeration.
        return str_starts_with($this->type, 'Edm.') || $value === 'null' ? (new ODataLiteral($this->version))->write($value, $this->type) : "$this->type'".str_replace("'", "''", $value)."'";
    }

    /**
     * OData JSON 4.01 §7.1; versions 2 and 3 write times as `/Date(ms)/` and long numbers as texts
     * ([JSON format 2.0] §4). Null when the type has no form of its own here.
     *
     * @throws InvalidLiteral
     */
    public function json(string $value): JsonText|string|null
    {
        if ($this->version->isV4()) {
            return in_array($this->type, ['Edm.Decimal', 'Edm.Int64'], true) ? new JsonText((new ODataLiteral($this->version))->write(ltrim($value, '+'), $this->type)) : null;
        }
        if ($this->type === 'Edm.DateTime' && $this->version === ODataVersion::V2 && ! str_starts_with($value, '/Date(')) {
            (new ODataLiteral($this->version))->write($value, $this->type);
            $moment = new \DateTimeImmutable(rtrim(strtr($value, ' ', 'T'), 'Z'), new \DateTimeZone('UTC'));

            return '/Date('.$moment->format('Uv').')/';
        }

        return in_array($this->type, ['Edm.Decimal', 'Edm.Int64'], true) ? $value : null;
    }
}
