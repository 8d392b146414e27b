<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

enum UnreadableKind
{
    case Empty;
    case Html;
    case NotJson;
}
