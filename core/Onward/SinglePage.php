<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Onward\Detect\SignsOfMore;
use DeepSpring\Value\Kind\Kind;

final class SinglePage implements PagingStyle
{
    use PlainPager;

    public static function kind(): Kind
    {
        return new Kind('none', 'None', 'One request is sent, and what it answers is the list.', []);
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
        $signs = SignsOfMore::in($page);

        return new End(EndReason::Single, $signs === [] ? 'One request, as set; nothing in the answer says that there is more.' : 'One request, as set. It may not be all: '.implode('; ', $signs).'.');
    }

    public function endsEmpty(): bool
    {
        return false;
    }
}
