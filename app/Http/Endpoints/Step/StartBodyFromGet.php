<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Evidence\CurrentAnswer;
use App\Http\Editing\Asked;
use App\Models\Endpoint;
use App\Models\Tryout;
use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\RecordSets;
use DeepSpring\Describe\BodyFromSample;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * A body from the record that the endpoint over the same records got last.
 */
final readonly class StartBodyFromGet implements EndpointStep
{
    public static function name(): string
    {
        return 'body-from-get';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $document = $this->lastGot($context);
        if ($document === null) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].ask.body', 'There is no answer of an endpoint that gets one of these records. Try that one first.')]);
        }
        $others = array_values(array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] !== 'body'));
        [$body, $inputs] = (new BodyFromSample(array_column($others, 'name')))->of((string) json_encode($document, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION), 'application/json');
        $endpoint['ask']['body'] = $body;
        $endpoint['ask']['inputs'] = [...$others, ...$inputs];

        return $endpoint;
    }

    private function lastGot(EndpointContext $context): mixed
    {
        $set = RecordSets::path((string) ($context->file->endpoint($context->row->slug)?->endpoint['ask']['path'] ?? ''));
        foreach ($context->file->endpoints() as $one) {
            if ($one->does() !== EndpointRole::Get || RecordSets::path($one->ask()->path) !== $set) {
                continue;
            }
            $its = Endpoint::query()->where('source_id', $context->row->source_id)->where('slug', $one->slug)->first();
            $try = $its === null ? null : Tryout::query()->where('endpoint_id', $its->id)->where('environment_id', $context->environment->id)->where('succeeded', true)->latest('id')->first();
            $answer = CurrentAnswer::of($try?->exchanges->first(), null);
            $records = $answer->isThere ? $one->answer()->records($answer->document) : [];
            if (($records[0] ?? null) instanceof \stdClass) {
                return $records[0];
            }
        }

        return null;
    }
}
