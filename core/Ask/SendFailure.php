<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * How sending a request can fail before there is an answer.
 */
enum SendFailure: string
{
    /** The address is none that requests may go to; nothing was sent. */
    case Forbidden = 'forbidden';
    case Name = 'name';
    case Refused = 'refused';
    case ConnectTimeout = 'connect-timeout';
    case AnswerTimeout = 'answer-timeout';
    case Tls = 'tls';
    case TooLarge = 'too-large';
    case Cut = 'cut';
    /** Somebody stopped it. */
    case Stopped = 'stopped';
    case Other = 'other';
}
