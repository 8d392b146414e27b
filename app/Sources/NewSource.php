<?php

declare(strict_types=1);

namespace App\Sources;

use App\Models\Environment;
use App\Models\Source;
use App\Models\Upload;
use DeepSpring\Access\BaseAddress;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Slugs;
use DeepSpring\OData\ServiceAddress;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

/**
 * An address, or a request that somebody wrote down → a new source.
 */
final class NewSource
{
    /**
     * From an address alone.
     *
     * @throws ValidationException with the field it belongs to
     */
    public function at(string $address, Environment $environment, string $name, string $slug): SourceFile
    {
        return $this->described($environment, $address, $name, $slug, []);
    }

    /**
     * Of a file of rows that was handed in.
     *
     * @throws ValidationException
     */
    public function upload(Upload $upload, string $name, string $slug): SourceFile
    {
        $base = dirname($upload->address());
        $title = Str::of(pathinfo($upload->file_name, PATHINFO_FILENAME))->replace(['_', '-'], ' ')->squish()->ucfirst()->limit(80)->toString() ?: $upload->slug;

        return $this->described($upload->environment, $base, $name ?: $title, $slug ?: $this->free($upload->slug), ['headers' => ['accept' => 'text/csv'], 'test' => ['endpoint' => 'rows']], [['slug' => 'rows', 'name' => $name ?: $title, 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => "/{$upload->slug}"]]]);
    }

    private function free(string $slug): string
    {
        for ($number = 1; Source::query()->where('slug', $slug.($number === 1 ? '' : "-$number"))->exists(); $number++);

        return $slug.($number === 1 ? '' : "-$number");
    }

    /**
     * From an address of an OData service: its metadata, or a set with what was chosen of it.
     *
     * @param  Described|null  $described  the request that the address stood in, with its authentication
     *
     * @throws ValidationException
     */
    public function service(ServiceAddress $address, Environment $environment, string $name, string $slug, ?Described $described = null): SourceFile
    {
        $endpoints = [];
        if ($address->choice !== []) {
            $set = $address->choice['entity_set'];
            $endpoints[] = ['slug' => Slugs::clean($set), 'name' => $set] + $address->choice;
        }

        return $this->described($environment, $address->root, $name, $slug, ['kind' => 'odata', 'odata' => ['version' => $address->version->value ?? 'auto'], 'access' => $described->access ?? [], 'headers' => array_diff_key($described->headers ?? [], ['accept' => 1])], $endpoints);
    }

    /**
     * The service that a request goes to, where its address shows that it speaks OData.
     */
    public static function serviceOf(Described $described): ?ServiceAddress
    {
        $one = count($described->endpoints) === 1 && $described->kind === 'curl' ? $described->endpoints[0] : null;
        if ($one === null || $one->method() !== 'GET') {
            return null;
        }
        $query = [];
        foreach ($one->endpoint['ask']['inputs'] ?? [] as $input) {
            if ($input['in'] === 'path' || is_array($input['try'] ?? '')) {
                return null;
            }
            $query[] = rawurlencode((string) $input['name']).'='.rawurlencode((string) ($input['try'] ?? $input['fixed'] ?? ''));
        }

        return ServiceAddress::of(($described->bases[0] ?? '').$one->endpoint['ask']['path'].($query === [] ? '' : '?'.implode('&', $query)));
    }

    /**
     * From one request that somebody wrote down.
     *
     * @throws ValidationException
     */
    public function of(Described $described, Environment $environment, string $name, string $slug): SourceFile
    {
        $base = $described->bases[0] ?? '';
        $endpoints = array_values(array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, array_filter($described->endpoints, static fn (ImportedEndpoint $one): bool => ! ($one->method() === 'GET' && $one->endpoint['ask']['path'] === '' && ($one->endpoint['ask']['inputs'] ?? []) === []))));
        $more = ['access' => $described->access, 'headers' => $described->headers + ['accept' => 'application/json']];
        if ($endpoints !== [] && in_array($endpoints[0]['does'], ['list', 'get'], true)) {
            $more['test'] = ['endpoint' => $endpoints[0]['slug']];
        }

        return $this->described($environment, $base, $name ?: self::nameFrom($base.($endpoints[0]['ask']['path'] ?? '')), $slug, $more, $endpoints);
    }

    /**
     * @throws ValidationException
     */
    public function file(Described $described): SourceFile
    {
        $file = SourceFile::trusted($described->document ?? []);
        $this->refuseTaken($file->slug());

        return $file;
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
        $isOData = ($more['kind'] ?? 'rest') === 'odata';
        $source = ['slug' => $slug, 'name' => $name, 'kind' => $isOData ? 'odata' : 'rest', 'environments' => [$environment->slug => ['base' => $base]]] + array_filter($more + ($isOData ? [] : ['headers' => ['accept' => 'application/json']]), static fn (mixed $one): bool => $one !== []);
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
