<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Value\Kind\Declared;

/**
 * A pager that can be chosen in a source file, with the settings that it declares.
 */
interface PagingStyle extends Declared, Pager
{
    /**
     * @param  OnwardDefinition  $onward  settings of its own are in `settings`
     * @param  \DateTimeImmutable  $now  for what reaches up to now
     */
    public static function of(OnwardDefinition $onward, \DateTimeImmutable $now): self;
}
