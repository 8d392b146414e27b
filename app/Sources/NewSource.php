<?php

declare(strict_types=1);

namespace App\Sources;

use App\Models\Environment;
use App\Models\Source;
use DeepSpring\Access\BaseAddress;
use DeepSpring\Describe\CurlCommand;
use DeepSpring\Describe\FromCurl;
use DeepSpring\Describe\UnreadableCommand;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

/**
 * What a person has at hand → a new source.
 */
final class NewSource
{
    /**
     * @return array{SourceFile, array<string, string>, string|null} the source, secrets that stood in what was given, and what was left out
     *
     * @throws ValidationException with the field it belongs to
     */
    public function from(string $start, Environment $environment, string $name, string $slug): array
    {
        if ($start === '') {
            throw ValidationException::withMessages(['start' => 'Give an address, a cURL command or a source file.']);
        }
        if (preg_match('/^\s*(?:\{|(?:#[^\n]*\n\s*)*deepspring\s*:|"deepspring")/', $start) === 1) {
            return [$this->file($start), [], null];
        }
        if (CurlCommand::looksLikeOne($start) || str_contains($start, '?') && preg_match('~^https?://\S+$~i', $start) === 1) {
            return $this->command($start, $environment, $name, $slug);
        }

        return [$this->described($environment, $start, $name, $slug, []), [], null];
    }

    private function file(string $text): SourceFile
    {
        try {
            $file = SourceFile::read($text);
        } catch (InvalidSourceFile $invalid) {
            throw ValidationException::withMessages(['start' => array_map(static fn ($fault): string => ucfirst((string) $fault), $invalid->faults)]);
        }
        $this->refuseTaken($file->slug());

        return $file;
    }

    /**
     * @return array{SourceFile, array<string, string>, string|null}
     */
    private function command(string $text, Environment $environment, string $name, string $slug): array
    {
        try {
            $command = CurlCommand::read(CurlCommand::looksLikeOne($text) ? $text : "curl '$text'");
        } catch (UnreadableCommand $unreadable) {
            throw ValidationException::withMessages(['start' => $unreadable->getMessage()]);
        }
        $found = FromCurl::of($command);
        $more = ['access' => $found->access, 'headers' => $found->headers + ['accept' => 'application/json']];
        if ($found->endpoint !== null) {
            $more['test'] = ['endpoint' => $found->endpoint['slug']];
        }
        $file = $this->described($environment, $found->base, $name ?: self::nameFrom($found->base.($found->endpoint['ask']['path'] ?? '')), $slug, $more, $found->endpoint === null ? [] : [$found->endpoint]);
        $note = $command->method === 'GET' ? null : "The command writes ($command->method), and endpoints read so far: address, access and headers were taken, the endpoint was not.";

        return [$file, $found->secrets, $note];
    }

    /**
     * @param  array<string, mixed>  $more  of the source
     * @param  list<array<string, mixed>>  $endpoints
     */
    private function described(Environment $environment, string $base, string $name, string $slug, array $more, array $endpoints = []): SourceFile
    {
        $name = $name ?: self::nameFrom($base);
        $slug = $slug ?: Str::slug($name);
        $this->refuseTaken($slug);
        $source = ['slug' => $slug, 'name' => $name, 'kind' => 'rest', 'environments' => [$environment->slug => ['base' => $base]]] + array_filter($more + ['headers' => ['accept' => 'application/json']], static fn (array $one): bool => $one !== []);
        try {
            return SourceFile::of(['deepspring' => 1, 'source' => $source, 'endpoints' => $endpoints]);
        } catch (InvalidSourceFile $invalid) {
            $messages = [];
            foreach ($invalid->faults as $fault) {
                $field = str_ends_with($fault->path, '.base') ? 'start' : (str_ends_with($fault->path, '.slug') ? 'slug' : (str_ends_with($fault->path, 'source.name') ? 'name' : 'start'));
                $messages[$field] ??= ucfirst($fault->message);
            }

            throw ValidationException::withMessages($messages)->redirectTo(route('sources.create').'?'.http_build_query(['offer' => BaseAddress::repaired($base)]));
        }
    }

    private function refuseTaken(string $slug): void
    {
        if ($slug !== '' && Source::query()->where('slug', $slug)->exists()) {
            throw ValidationException::withMessages(['slug' => "There is a source \"$slug\" already. Give this one another short name."]);
        }
    }

    /**
     * The part of a host that names the service, or of the path where the host is an address.
     */
    private static function nameFrom(string $base): string
    {
        $host = (string) parse_url($base, PHP_URL_HOST);
        $parts = array_values(array_filter(explode('.', preg_match('/^[\d.:\[\]]+$|^localhost$/', $host) === 1 ? '' : $host), static fn (string $part): bool => $part !== '' && ! in_array($part, ['api', 'www', 'rest', 'app', 'data'], true)));
        $path = array_values(array_filter(explode('/', (string) parse_url($base, PHP_URL_PATH)), static fn (string $part): bool => $part !== '' && preg_match('/^(?:v\d.*|api|rest)$/i', $part) !== 1));

        return ucfirst(str_replace(['-', '_'], ' ', $parts[0] ?? $path[0] ?? 'Source'));
    }
}
