<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\RowJson;
use Symfony\Component\HttpFoundation\Response;

/**
 * OData JSON 4.01, which readers of 4.0 can read, too.
 */
final readonly class ODataWriting4 implements ODataWriting
{
    private const FLAGS = JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE;

    /**
     * @param  string  $version  4.01 or 4.0
     * @param  bool  $asTexts  whether whole numbers of 64 bits and decimals are texts (§3.2)
     */
    public function __construct(private string $version, private bool $asTexts)
    {
    }

    public function type(): string
    {
        return 'application/json;odata.metadata=minimal'.($this->asTexts ? ';IEEE754Compatible=true' : '');
    }

    /**
     * §5
     */
    public function service(string $root, array $entities): string
    {
        $sets = array_map(static fn (FeedEntity $entity): array => ['name' => $entity->set, 'kind' => 'EntitySet', 'url' => $entity->set] + ($entity->feed->title === '' ? [] : ['title' => $entity->feed->title]), $entities);

        return (string) json_encode(['@odata.context' => "$root/\$metadata", 'value' => $sets], self::FLAGS);
    }

    public function metadata(array $entities, FeedLinks $links, bool $isJson): array
    {
        return $isJson ? [(string) json_encode(FeedMetadata::json($entities, $links, $this->version), self::FLAGS), 'application/json'] : [FeedMetadata::xml($entities, $links, $this->version), 'application/xml'];
    }

    public function rows(string $root, FeedEntity $entity, FeedQuestion $question, array $places, FeedLinks $links): \Closure
    {
        $json = new RowJson($question->columns, $this->asTexts, true);

        return static function (array $row, array $more) use ($json): string {
            $object = $json->object($row);

            return $more === [] ? $object : substr($object, 0, -1).($object === '{}' ? '' : ',').implode(',', $more).'}';
        };
    }

    /**
     * §8.3
     */
    public function related(FeedLink $link, array $objects, ?int $total): string
    {
        return ($total === null ? '' : "\"$link->name@odata.count\":$total,")."\"$link->name\":".($link->isMany ? '['.implode(',', $objects).']' : $objects[0] ?? 'null');
    }

    public function collection(string $root, FeedEntity $entity, FeedQuestion $question, array $objects, ?int $total, ?string $next, ?string $delta = null): string
    {
        return '{"@odata.context":'.$this->context($root, $entity, $question, '').($total === null ? '' : ",\"@odata.count\":$total").',"value":['.implode(',', $objects).']'.($next === null ? '' : ',"@odata.nextLink":'.json_encode($next, self::FLAGS)).($delta === null ? '' : ',"@odata.deltaLink":'.json_encode($delta, self::FLAGS)).'}';
    }

    /**
     * §15: rows that are new or have changed, and those that are gone.
     *
     * @param  list<string>  $objects
     * @param  list<list<string|null>>  $removed  values of keys
     */
    public function delta(string $root, FeedEntity $entity, FeedQuestion $question, array $objects, array $removed, ?string $next, ?string $delta): string
    {
        foreach ($removed as $values) {
            $id = json_encode("$root/$entity->set".EntityKey::written($entity, $values), self::FLAGS);
            $objects[] = $this->version === '4.0' ? '{"@odata.context":'.json_encode("$root/\$metadata#$entity->set/\$deletedEntity", self::FLAGS).",\"id\":$id,\"reason\":\"deleted\"}" : "{\"@removed\":{\"reason\":\"deleted\"},\"@id\":$id,".substr((new RowJson($entity->key, $this->asTexts, true))->object($values), 1);
        }

        return '{"@odata.context":'.$this->context($root, $entity, $question, '/$delta').',"value":['.implode(',', $objects).']'.($next === null ? '' : ',"@odata.nextLink":'.json_encode($next, self::FLAGS)).($delta === null ? '' : ',"@odata.deltaLink":'.json_encode($delta, self::FLAGS)).'}';
    }

    public function entity(string $root, FeedEntity $entity, FeedQuestion $question, string $object): string
    {
        return '{"@odata.context":'.$this->context($root, $entity, $question, '/$entity').($object === '{}' ? '' : ',').substr($object, 1);
    }

    public function property(string $context, string $name, string $value): string
    {
        return '{"@odata.context":'.json_encode($context, self::FLAGS).",\"value\":$value}";
    }

    /**
     * §21
     */
    public function problem(FeedProblem $problem): string
    {
        $error = ['code' => strtolower(str_replace(' ', '-', Response::$statusTexts[$problem->status] ?? 'error')), 'message' => $problem->getMessage()] + ($problem->parameter === null ? [] : ['target' => $problem->parameter]);

        return (string) json_encode(['error' => $error], self::FLAGS);
    }

    /**
     * OData 4.01 protocol §10.2 to §10.10, as JSON.
     */
    private function context(string $root, FeedEntity $entity, FeedQuestion $question, string $suffix): string
    {
        return (string) json_encode("$root/\$metadata#$entity->set".self::shown($question, $entity).$suffix, self::FLAGS);
    }

    private static function shown(FeedQuestion $question, FeedEntity $entity): string
    {
        $isWhole = $question->source === null && $question->columns === $entity->columns;
        $names = $isWhole ? [] : array_map(static fn (FeedColumn $column): string => $column->name, $question->columns);
        foreach ($question->expand as $one) {
            $names[] = $one->link->name.(self::shown($one->question, $one->link->to) ?: '()');
        }

        return $names === [] ? '' : '('.implode(',', $names).')';
    }
}
