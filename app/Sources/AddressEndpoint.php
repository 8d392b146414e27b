<?php

declare(strict_types=1);

namespace App\Sources;

use App\Evidence\CurrentAnswer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\Flatten\Proposal\RecordsProposal;
use DeepSpring\SourceFile\SourceFile;

/**
 * An address that answers with data is that of an endpoint: what stands before its last part is the base
 * address of the source.
 */
final readonly class AddressEndpoint
{
    public function __construct(private SourceStore $store)
    {
    }

    /**
     * Whether the base address of a source without endpoints answered with something that could be one.
     */
    public static function isOne(SourceFile $file, ?Tryout $try): bool
    {
        return $file->endpoints() === [] && $try !== null && $try->endpoint_id === null && $try->succeeded && self::answer($try)->isThere;
    }

    /**
     * Whether that answer surely is data, since a list of records is in it.
     */
    public static function holdsRecords(Tryout $try): bool
    {
        return array_filter((new RecordsFinder)->find(self::answer($try)->document), static fn (RecordsProposal $one): bool => $one->answer !== [] && $one->score >= 60) !== [];
    }

    /**
     * The source with an endpoint of its base address.
     *
     * @return Endpoint|null null where the address has no part that could be its path
     */
    public function make(Source $source, Environment $environment, ?User $by): ?Endpoint
    {
        $base = (string) ($source->current()->source()->base($environment->slug) ?? '');
        try {
            $described = Importers::every(new ImportInput('curl '.escapeshellarg($base), ''))[0];
        } catch (CannotDescribe) {
            return null;
        }
        $endpoint = $described->endpoints[0]->endpoint ?? null;
        if ($endpoint === null || trim((string) $endpoint['ask']['path'], '/') === '' || ! isset($described->bases[0])) {
            return null;
        }
        $this->store->edit($source, $by, function (array $document) use ($environment, $described, $endpoint): array {
            $document['source']['environments'][$environment->slug]['base'] = $described->bases[0];
            $document['source']['test'] = ['endpoint' => $endpoint['slug']] + ($document['source']['test'] ?? []);
            $document['endpoints'] = [$endpoint];

            return $document;
        });

        return $source->endpoints()->where('slug', $endpoint['slug'])->first();
    }

    private static function answer(Tryout $try): CurrentAnswer
    {
        return CurrentAnswer::of($try->exchanges->first(), null);
    }
}
