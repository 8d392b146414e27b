<?php

declare(strict_types=1);

namespace App\OData;

use App\Models\Environment;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Pipeline\ReadingFailed;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\OData\Csdl\Collected;
use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\OData\Csdl\UnreadableMetadata;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriComparator;
use GuzzleHttp\Psr7\UriResolver;

/**
 * Asks a service for its metadata and all that this refers to, has it kept, and brings what follows from
 * it in the source file up to date.
 */
final readonly class MetadataFetcher
{
    private const MOST_DOCUMENTS = 20;

    private const ACCEPT = 'application/xml, application/json;q=0.8';

    public function __construct(private Tries $tries, private ServiceModels $models, private SourceStore $store)
    {
    }

    /**
     * Asks the service for its metadata and all that this refers to. What follows from it in the source
     * file is brought up to date.
     */
    public function read(Source $source, Environment $environment, ?User $by): Tryout
    {
        $file = $source->current();
        $path = (string) ($file->document['source']['odata']['metadata'] ?? '/$metadata');
        $collected = new Collected;
        $bytes = 0;
        $hash = hash_init('xxh128');
        $take = static function (string $body) use (&$collected, &$bytes, $hash): void {
            try {
                $read = Metadata::read($body);
            } catch (UnreadableMetadata $unreadable) {
                throw ReadingFailed::because(new Diagnosis('metadata', $unreadable->getMessage(), 'Compare the address with the documentation: metadata is usually found at the service root followed by /$metadata.', 'answer'));
            }
            $bytes === 0 ? $collected = $read : $collected->add($read);
            $bytes += strlen($body);
            hash_update($hash, $body);
        };
        $try = $this->tries->document($source, $file, $environment, $by, $path, self::ACCEPT, $take);
        if (! $try->succeeded) {
            return $try;
        }
        $base = rtrim((string) $file->source()->base($environment->slug), '/');
        $left = $this->follow($source, $environment, $by, $collected, new Uri(preg_match('~^https?://~i', $path) === 1 ? $path : $base.'/'.ltrim($path, '/')), $take);
        try {
            $model = Metadata::model($collected);
        } catch (UnreadableMetadata $unreadable) {
            $try->forceFill(['succeeded' => false, 'diagnosis' => (new Diagnosis('metadata', $unreadable->getMessage(), 'The rest of what it said is kept with this try.', 'answer'))->toArray()])->save();

            return $try;
        }
        $this->models->keep($source, $environment, $model, $bytes, hash_final($hash), $left);
        $this->bringUpToDate($source, $model, $by);

        return $try;
    }

    /**
     * @return list<string> what was not followed, in sentences
     */
    private function follow(Source $source, Environment $environment, ?User $by, Collected $collected, Uri $here, \Closure $take): array
    {
        $left = [];
        $seen = [(string) $here => true];
        while (($needed = array_values(array_filter(array_map(static fn (string $one): string => (string) UriResolver::resolve($here, new Uri($one)), Metadata::needs($collected)), static fn (string $one): bool => ! isset($seen[$one])))) !== [] && count($seen) <= self::MOST_DOCUMENTS) {
            $address = $needed[0];
            $seen[$address] = true;
            if (UriComparator::isCrossOrigin($here, new Uri($address))) {
                $left[] = "$address is at another address, where this source does not go. Types that stand there are not known.";

                continue;
            }
            $try = $this->tries->document($source, $source->current(), $environment, $by, $address, self::ACCEPT, $take);
            if (! $try->succeeded) {
                $left[] = "$address could not be read: ".($try->diagnosis['what'] ?? '');
            }
        }

        return $left;
    }

    /**
     * The source speaks OData, in this version; what was chosen before gets what now follows.
     */
    private function bringUpToDate(Source $source, Model $model, ?User $by): void
    {
        $this->store->edit($source, $by, static function (array $document) use ($model): ?array {
            $changed = $document;
            $changed['source']['kind'] = 'odata';
            $changed['source']['odata'] = ['version' => $model->version->value] + ($changed['source']['odata'] ?? []);
            // As if nothing was known of it before, so that all that is derived follows.
            $changed = Chosen::filled($changed, [], $model);

            return $changed === $document ? null : $changed;
        });
    }
}
