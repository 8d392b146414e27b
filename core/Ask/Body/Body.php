<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Value\Kind\Declared;

/**
 * What a request carries, with inputs in it. The field `of` that each kind declares says how it is
 * written: as a tree, as a map of fields, or as a text with inputs in it.
 */
interface Body extends Declared
{
    /**
     * @param  array<string, mixed>  $body  valid by the schema
     */
    public static function of(array $body): self;

    /**
     * @throws InvalidInput when a value cannot be written in this kind of body
     */
    public function encode(InputValues $values): Encoded;

    /**
     * Names of the inputs that occur in it.
     *
     * @return list<string>
     */
    public function inputs(): array;

    /**
     * What is wrong with it as it stands, whatever the values: place (like `of.insurance.value`) → sentence.
     *
     * @return array<string, string>
     */
    public function faults(): array;

    /**
     * Required inputs that are not needed, since the optional object they stand in is left out.
     *
     * @param  list<string>  $filled  inputs that somebody filled
     * @return list<string>
     */
    public function excused(array $filled): array;

    /**
     * Why an input is needed that is only needed together with others; null when it always is.
     *
     * @param  list<string>  $filled
     */
    public function demanded(string $input, array $filled): ?string;

    /**
     * The same with further members: what asks for another page.
     *
     * @param  array<array-key, string|int>  $members  by name, in JSON also by names with dots between
     *
     * @throws InvalidInput when this kind of body has no members
     */
    public function with(array $members): self;
}
