<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Curl;

/**
 * One part of a form with files.
 */
final readonly class FormPart
{
    /**
     * @param  string|null  $content  null when it is in a file that was not handed in
     * @param  bool  $isFile  whether it is sent with a file name
     */
    public function __construct(public string $name, public ?string $content, public bool $isFile = false, public ?string $filename = null, public ?string $type = null)
    {
    }
}
