<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Access\AccessScheme;
use DeepSpring\Access\SchemeSettings;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\Value;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * A scheme that nobody has: a stamp in a header.
 */
final readonly class StampScheme implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('stamp', 'Stamp', 'A stamp in a header.', [
            new Field('ink', FieldType::Choice, 'ink', 'The colour of the stamp.', true, choices: ['blue' => 'blue', 'red' => 'red'], start: 'blue'),
            SchemeSettings::secret('seal', 'seal', 'What is stamped.'),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry['ink'], Value::of($entry['seal']));
    }

    private function __construct(private string $ink, private Value $seal)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request->withHeader('x-stamp', "$this->ink {$this->seal->reveal($secrets)}");
    }

    public function sensitive(Secrets $secrets): array
    {
        return [$this->seal->reveal($secrets)];
    }

    public function secretNames(): array
    {
        return $this->seal->secretNames();
    }

    public function label(): string
    {
        return 'stamp';
    }

    public function header(): string
    {
        return 'x-stamp';
    }
}
