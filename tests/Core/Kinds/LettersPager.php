<?php

declare(strict_types=1);

namespace Tests\Core\Kinds;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\OnwardDefinition;
use DeepSpring\Onward\Page;
use DeepSpring\Onward\PagingStyle;
use DeepSpring\Onward\PlainPager;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A style of paging that nobody has: pages by their letter.
 */
final class LettersPager implements PagingStyle
{
    use PlainPager;

    public static function kind(): Kind
    {
        return new Kind('letter', 'Page letter', 'Pages are named by letters.', [
            new Field('letter_as', FieldType::Parameter, 'letter parameter', 'The parameter that carries the letter.', true, start: 'letter'),
            new Field('last_letter', FieldType::Text, 'last letter', 'The letter of the last page.', default: 'c'),
        ]);
    }

    public static function of(OnwardDefinition $onward, \DateTimeImmutable $now): self
    {
        return new self($onward->settings);
    }

    /**
     * @param  array<string, mixed>  $settings
     */
    private function __construct(private readonly array $settings)
    {
    }

    public function first(): PageRequest
    {
        return $this->request(1);
    }

    public function next(Page $page): PageRequest|End
    {
        $last = ord((string) ($this->settings['last_letter'] ?? 'c')) - 96;

        return $page->number >= $last ? new End(EndReason::All, 'The last letter has come.') : $this->request($page->number + 1);
    }

    private function request(int $number): PageRequest
    {
        return new PageRequest([(string) $this->settings['letter_as'] => chr(96 + $number)]);
    }
}
