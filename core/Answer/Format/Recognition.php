<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

/**
 * How sure a format is of a body. What the body itself says without doubt is surer than its media type,
 * since many services send a wrong one.
 */
enum Recognition: int
{
    case No = 0;

    /** It could be read so, if nothing else fits. */
    case Perhaps = 1;

    /** It begins as this format does. */
    case Likely = 2;

    /** The media type says so. */
    case Named = 3;

    /** Nothing else begins so. */
    case Sure = 4;
}
