<?php

declare(strict_types=1);

namespace App\Http\Sources;

use App\Access\TokenStore;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Pace\RateLimitStore;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\SourceFile;

/**
 * Makes what the sheet of a source shows.
 */
final readonly class SourceSheets
{
    public function __construct(private RateLimitStore $rates, private TokenStore $tokens)
    {
    }

    /**
     * @param  list<Fault>  $faults
     * @param  array<string, mixed>|null  $form  what was sent and could not be saved
     */
    public function source(Source $source, SourceFile $file, Environment $environment, User $person, array $faults, ?array $form): SourceSheet
    {
        return new SourceSheet($this->rates, $this->tokens, $source, $file, $environment, $person, $faults, $form);
    }
}
