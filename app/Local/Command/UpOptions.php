<?php

declare(strict_types=1);

namespace App\Local\Command;

use Symfony\Component\Console\Input\InputInterface;

/**
 * What was said to `up` beside the port.
 */
final readonly class UpOptions
{
    /**
     * @param  array<string, string>  $settings  for the file of settings
     * @param  list<string>  $prepare  options of the command that prepares the database
     * @param  array{string, string}|null  $certificate
     */
    private function __construct(public array $settings, public array $prepare, public ?array $certificate)
    {
    }

    public static function of(InputInterface $input, int $port): self
    {
        $settings = [];
        $url = $input->getOption('url');
        $certificate = $input->getOption('tls');
        if (is_string($url)) {
            $settings['APP_URL'] = rtrim($url, '/');
        } elseif (is_string($certificate)) {
            $settings['APP_URL'] = "https://127.0.0.1:$port";
        }
        if ($input->getOption('no-demo') === true) {
            $settings['SPRING_DEMO'] = 'no';
        }
        $prepare = array_values(array_filter(['no-demo', 'forget-secrets'], static fn (string $one): bool => $input->getOption($one) === true));

        return new self(
            $settings,
            array_map(static fn (string $one): string => "--$one", $prepare),
            is_string($certificate) ? [self::path($certificate), self::path((string) $input->getArgument('key'))] : null,
        );
    }

    /**
     * @return string|null what is wrong with the address
     */
    public static function address(InputInterface $input): ?string
    {
        $url = $input->getOption('url');

        return $url === null || is_string($url) && preg_match('~^https?://[a-z0-9.\-\[\]:]+/?$~iD', $url) === 1
            ? null
            : '--url takes the address that people use, scheme, host and port alone, like https://tables.saltmarsh.example';
    }

    /**
     * @return string|null what is wrong with the certificate
     */
    public static function certificate(InputInterface $input): ?string
    {
        $key = $input->getArgument('key');
        if ($input->getOption('tls') === null) {
            return $key === null ? null : "There is nothing to do with \"$key\": a key follows --tls CERTIFICATE.";
        }

        return $key === null ? '--tls takes a certificate and its key: --tls CERTIFICATE KEY' : null;
    }

    /**
     * The words that say the same again.
     *
     * @return list<string>
     */
    public static function again(InputInterface $input): array
    {
        $words = ['--port', (string) $input->getOption('port')];
        foreach (['no-demo', 'forget-secrets'] as $name) {
            if ($input->getOption($name) === true) {
                $words[] = "--$name";
            }
        }
        if (is_string($input->getOption('url'))) {
            array_push($words, '--url', $input->getOption('url'));
        }
        if (is_string($input->getOption('tls'))) {
            array_push($words, '--tls', self::path($input->getOption('tls')), self::path((string) $input->getArgument('key')));
        }

        return $words;
    }

    private static function path(string $path): string
    {
        $from = getenv('SPRING_CWD');

        return str_starts_with($path, '/') || $from === false ? $path : "$from/$path";
    }
}
