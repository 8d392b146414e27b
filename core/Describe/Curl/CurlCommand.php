<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Curl;

use DeepSpring\Describe\Files;
use DeepSpring\Describe\Shell\Shell;
use DeepSpring\Describe\UnreadableCommand;

/**
 * A cURL command, as documentations and browsers give it → the request that curl would send. What
 * curl adds by itself (host, length, its own name) is left out.
 */
final readonly class CurlCommand
{
    /**
     * @param  list<array{string, string}>  $headers  name and value, those that options imply among them
     * @param  list<FormPart>|null  $parts  of a form with files
     * @param  list<string>  $missing  files that the command names and nobody handed in
     * @param  list<string>  $unknown  options that curl may know and we do not
     * @param  list<string>  $notes  sentences on what was understood and left out
     */
    public function __construct(
        public string $method,
        public string $url,
        public array $headers,
        /** Name and password with a colon between, or null. */
        #[\SensitiveParameter] public ?string $user,
        public string $body,
        public ?array $parts = null,
        public array $missing = [],
        public array $unknown = [],
        public array $notes = [],
    ) {
    }

    public static function looksLikeOne(string $text): bool
    {
        return Shell::part($text) !== [] && preg_match('/^\s*(?:[$%>#]\s+|#[^\n]*\n\s*)*curl(?:\.exe)?\s/i', (string) preg_replace('/^\xEF\xBB\xBF/', '', $text)) === 1;
    }

    /**
     * The first command of a text.
     *
     * @throws UnreadableCommand
     */
    public static function read(string $text): self
    {
        return self::all($text)[0] ?? throw UnreadableCommand::withoutAddress();
    }

    /**
     * @return list<self>
     *
     * @throws UnreadableCommand
     */
    public static function all(string $text, Files $files = new Files([])): array
    {
        $all = [];
        foreach (Shell::part($text) as $one) {
            foreach (Shell::of($one)->commands($one) as $command) {
                if (preg_match('/^curl(?:\.exe)?$/i', $command->words[0]) === 1) {
                    array_push($all, ...(new CommandReader($files, $command->input))->of(array_slice($command->words, 1)));
                }
            }
        }

        return $all;
    }

    /**
     * The value of a header, whatever its case; null without one.
     */
    public function header(string $name): ?string
    {
        foreach ($this->headers as [$its, $value]) {
            if (strcasecmp($its, $name) === 0) {
                return $value;
            }
        }

        return null;
    }
}
