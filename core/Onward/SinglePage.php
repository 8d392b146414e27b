<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

final class SinglePage implements Pager
{
    use PlainPager;

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
