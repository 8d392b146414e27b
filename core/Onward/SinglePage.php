<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

final class SinglePage implements Pager
{
    public function first(): PageRequest
    {
        return new PageRequest;
    }

    public function next(Page $page): End
    {
        return new End(EndReason::Single, 'One request holds all of it.');
    }
}
