<?php

declare(strict_types=1);

namespace App\OData;

use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Pipeline\Pipeline;
use App\Pipeline\Preview;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadPage;
use App\Pipeline\RowMaker;
use App\Pipeline\SourceConnections;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Diagnose\ErrorBody;
use DeepSpring\Flatten\Plan;
use DeepSpring\OData\Batch\JsonBatch;
use DeepSpring\OData\Batch\MultipartBatch;
use DeepSpring\OData\Batch\UnreadableBatch;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Looks at a service while somebody browses: counts, some rows. One request each, and nothing is kept.
 */
final readonly class ServiceReader
{
    private const ROWS = 20;

    public function __construct(private SourceConnections $connections, private Vault $vault)
    {
    }

    /**
     * How many entities a set has.
     *
     * @throws ReadingFailed
     */
    public function count(Source $source, Environment $environment, ?User $by, string $set): SetPreview
    {
        $look = $this->send($source, $environment, $by, ['slug' => 'count', 'name' => 'count', 'ask' => ['path' => "/$set/\$count", 'headers' => ['accept' => 'text/plain, */*;q=0.5']]], []);
        $text = trim((string) preg_replace('/^\xEF\xBB\xBF/', '', $look->body));

        return ctype_digit($text) ? $look->with(count: (int) $text) : throw ReadingFailed::because(new Diagnosis('count', 'The service answered with something that is no number.', mb_strimwidth(mb_scrub($text, 'UTF-8'), 0, 120, '…', 'UTF-8'), 'answer'));
    }

    /**
     * How many entities several sets have, in one request.
     *
     * @param  list<string>  $sets
     * @return array<string, int|string> the number, or why there is none
     *
     * @throws ReadingFailed when the service takes no batch
     */
    public function counts(Source $source, Environment $environment, ?User $by, Model $model, array $sets): array
    {
        $form = $model->version->isV4() && $model->written === '4.01' ? new JsonBatch : new MultipartBatch('batch_'.bin2hex(random_bytes(8)));
        $requests = [];
        foreach ($sets as $number => $set) {
            $requests["r$number"] = ['path' => "$set/\$count", 'accept' => 'text/plain, */*;q=0.5'];
        }
        $look = $this->send($source, $environment, $by, ['slug' => 'batch', 'name' => 'batch', 'does' => 'list', 'ask' => ['method' => 'POST', 'path' => '/$batch', 'headers' => ['accept' => $form instanceof JsonBatch ? 'application/json' : 'multipart/mixed'] + $model->version->headers(), 'body' => ['as' => 'text', 'of' => str_replace(['{', '}'], ['{{', '}}'], $form->encode($requests))]]], [], $form->contentType());
        try {
            $answers = $form->decode($look->contentType, $look->body, array_keys($requests));
        } catch (UnreadableBatch $unreadable) {
            throw ReadingFailed::because(new Diagnosis('batch', $unreadable->getMessage(), 'Count the sets one by one.', 'answer'));
        }
        $counts = [];
        foreach ($sets as $number => $set) {
            $answer = $answers["r$number"] ?? null;
            $counts[$set] = $answer?->isSuccess() === true && ctype_digit($answer->body) ? (int) $answer->body : (ErrorBody::of($answer->body ?? '')->sentence ?? ($answer === null ? 'no answer came' : "it answered {$answer->status}"));
        }

        return $counts;
    }

    /**
     * The first rows of a choice, as they would be kept.
     *
     * @param  array<string, mixed>  $endpoint
     *
     * @throws ReadingFailed
     */
    public function rows(Source $source, Environment $environment, ?User $by, Model $model, array $endpoint): SetPreview
    {
        $choice = array_intersect_key($endpoint, array_flip([...Derived::CHOICE, 'slug']));
        $isSingle = $model->set($choice['entity_set'])?->single === true;
        $choice['top'] = $isSingle ? null : min($choice['top'] ?? self::ROWS, self::ROWS);
        $parts = (new Derived($model->version, $model))->parts(array_filter($choice, static fn (mixed $one): bool => $one !== null));
        $flatten = $endpoint['flatten'] ?? $parts['flatten'] ?? null;
        $made = ['slug' => 'rows', 'name' => 'rows', 'does' => 'list', 'ask' => $parts['ask'] ?? ['path' => '/'], 'answer' => $parts['answer'] ?? []];
        $look = $this->send($source, $environment, $by, $made, []);
        if ($flatten === null) {
            return $look;
        }
        $definition = new EndpointDefinition($made);
        try {
            $read = $definition->answer()->read($look->body, $look->contentType);
            $page = $definition->answer()->pageOf($read);
        } catch (UnreadableAnswer $unreadable) {
            throw ReadingFailed::because(new Diagnosis('unreadable', $unreadable->getMessage(), 'What came is no JSON that this version of OData has.', 'answer'));
        }
        $plan = Plan::of($flatten, now()->toDateTimeImmutable());
        $preview = new Preview(self::ROWS);
        $shown = new ReadPage(1, $read->document, $page->values, Sent::kept($look->contentType, $look->body), page: $page, bad: $read->bad);
        (new Pipeline(new RowMaker($plan, masks: $this->vault->masks()), $preview))->run([$shown]);

        return $look->with(plan: $plan, batch: $preview->batch());
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, list<string>>  $inputs
     *
     * @throws ReadingFailed
     */
    private function send(Source $source, Environment $environment, ?User $by, array $endpoint, array $inputs, ?string $contentType = null): SetPreview
    {
        $file = $source->current();
        $definition = new EndpointDefinition($endpoint);
        $reading = $this->connections->open($source, $file->source(), $environment, $by);
        $begun = microtime(true);
        $address = '';
        $sent = $reading->send(static function () use ($reading, $definition, $inputs, $contentType, &$address) {
            $request = $reading->request($definition, $inputs, new PageRequest);
            $request = $contentType === null ? $request : $request->withHeader('content-type', $contentType);
            $address = $reading->mask()->apply((string) $request->getUri());

            return $request;
        }, new Limits(min(30, $file->source()->pace->timeout), 1, (int) config('spring.limits.answer_bytes')));
        $diagnosis = $reading->explain($sent, [200], 30, $definition);

        return $diagnosis === null ? new SetPreview($address, (int) $sent->status, 1000 * (microtime(true) - $begun), $reading->clean($sent)->body, $sent->headers['content-type'] ?? '') : throw ReadingFailed::because($diagnosis);
    }
}
