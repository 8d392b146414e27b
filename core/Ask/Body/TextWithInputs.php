<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\File;
use DeepSpring\Ask\InputType;
use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\Template;

/**
 * A body that is one text with `{name}` for inputs, in UTF-8.
 */
trait TextWithInputs
{
    public function __construct(private readonly string $text)
    {
    }

    public static function of(array $body): self
    {
        return new self((string) ($body['of'] ?? ''));
    }

    public function encode(InputValues $values): Encoded
    {
        $bytes = (new Template($this->text))->fill(function (string $name) use ($values): string {
            $value = $values->input($name)->type === InputType::File && $values->isGiven($name) ? File::of($values->all($name)[0])->content ?? '' : $values->text($name);

            return $this->written($name, $value);
        });

        return new Encoded($this->contentType(), $bytes);
    }

    public function inputs(): array
    {
        return (new Template($this->text))->names();
    }

    public function faults(): array
    {
        $at = (new Template($this->text))->strayBrace();

        return $at === null ? [] : ['of' => "A brace stands alone at character $at; a literal brace is doubled."];
    }

    public function excused(array $filled): array
    {
        return [];
    }

    public function demanded(string $input, array $filled): ?string
    {
        return null;
    }

    public function with(array $members): self
    {
        throw InvalidInput::because('body', 'a body that is text has no place for '.implode(' and ', array_keys($members)));
    }

    abstract private function contentType(): string;

    /**
     * A value as it can stand in the text.
     *
     * @throws InvalidInput
     */
    abstract private function written(string $name, string $value): string;
}
