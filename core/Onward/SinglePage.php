<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Kind;

final class SinglePage implements PagingStyle
{
    use PlainPager;

    public static function kind(): Kind
    {
        return new Kind('none', 'None', 'One response holds all records.', []);
    }

    public static function of(OnwardDefinition $onward, \DateTimeImmutable $now): self
    {
        return new self;
    }

    public function first(): PageRequest
    {
        return new PageRequest;
    }

    public function next(Page $page): End
    {
        return new End(EndReason::Single, 'One request holds all of it.');
    }

    public function endsEmpty(): bool
    {
        return false;
    }
}
