<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * What is wrong with JSONPaths, each looked at once: a large file has the same ones over and over.
 */
final class PathFaults
{
    /** @var array<string, string|null> by path */
    private array $known = [];

    /**
     * @return string|null what is wrong, null when it is right
     */
    public function of(string $path): ?string
    {
        if (! array_key_exists($path, $this->known)) {
            try {
                JsonPath::parse($path);
                $this->known[$path] = null;
            } catch (InvalidJsonPath $invalid) {
                $this->known[$path] = $invalid->getMessage();
            }
        }

        return $this->known[$path];
    }
}
