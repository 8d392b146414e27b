<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use App\Outlets\FeedQuestion;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FeedValue;
use DeepSpring\Feed\OldMoment;
use Symfony\Component\HttpFoundation\Response;

/**
 * The JSON of OData 2.0 ([JSON format 2.0]).
 */
final readonly class ODataWriting2 implements ODataWriting
{
    private const FLAGS = JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE;

    public function type(): string
    {
        return 'application/json;charset=utf-8';
    }

    public function service(string $root, array $entities): string
    {
        return (string) json_encode(['d' => ['EntitySets' => array_map(static fn (FeedEntity $entity): string => $entity->set, $entities)]], self::FLAGS);
    }

    public function metadata(array $entities, FeedLinks $links, bool $isJson): array
    {
        return [OldMetadata::xml($entities, $links), 'application/xml'];
    }

    public function rows(string $root, FeedEntity $entity, FeedQuestion $question, array $places, FeedLinks $links): \Closure
    {
        $type = FeedMetadata::NAMESPACE.'.'.$entity->type();
        $followed = array_map(static fn ($one): string => $one->link->name, $question->expand);
        $left = $question->columns !== $entity->columns ? [] : array_filter($links->of($entity), static fn (FeedLink $link): bool => ! in_array($link->name, $followed, true));

        return function (array $row, array $more) use ($root, $entity, $question, $places, $type, $left): string {
            $key = EntityKey::old($entity, array_map(static fn (FeedColumn $column): ?string => $row[$places[$column->name]], $entity->key));
            $address = (string) json_encode("$root/$entity->set$key", self::FLAGS);
            $members = ["\"__metadata\":{\"uri\":$address,\"type\":\"$type\"}"];
            foreach ($question->columns as $place => $column) {
                $members[] = "\"$column->name\":".self::value($column, $row[$place]);
            }
            foreach ($left as $link) {
                $members[] = "\"$link->name\":{\"__deferred\":{\"uri\":".json_encode("$root/$entity->set$key/$link->name", self::FLAGS).'}}';
            }

            return '{'.implode(',', [...$members, ...$more]).'}';
        };
    }

    /**
     * @throws FeedProblem
     */
    public static function value(FeedColumn $column, ?string $value): string
    {
        if ($value === null) {
            return 'null';
        }
        try {
            return match ($column->type) {
                'integer', 'decimal', 'float', 'uuid' => "\"$value\"",
                'boolean' => $value === '0' ? 'false' : 'true',
                'date', 'datetime' => '"'.OldMoment::json($value).'"',
                'time' => '"'.OldMoment::duration(FeedValue::time($value)).'"',
                default => (string) json_encode($value, self::FLAGS),
            };
        } catch (\InvalidArgumentException $cannot) {
            throw new FeedProblem(501, "$column->name holds {$cannot->getMessage()} Leave the column out with \$select, or read it by version 4.", [], '$select', $cannot);
        }
    }

    public function related(FeedLink $link, array $objects, ?int $total): string
    {
        return "\"$link->name\":".($link->isMany ? '{"results":['.implode(',', $objects).']}' : $objects[0] ?? 'null');
    }

    public function collection(string $root, FeedEntity $entity, FeedQuestion $question, array $objects, ?int $total, ?string $next, ?string $delta = null): string
    {
        return '{"d":{'.($total === null ? '' : "\"__count\":\"$total\",").'"results":['.implode(',', $objects).']'.($next === null ? '' : ',"__next":'.json_encode($next, self::FLAGS)).'}}';
    }

    public function entity(string $root, FeedEntity $entity, FeedQuestion $question, string $object): string
    {
        return "{\"d\":$object}";
    }

    public function property(string $context, string $name, string $value): string
    {
        return "{\"d\":{\"$name\":$value}}";
    }

    public function problem(FeedProblem $problem): string
    {
        return (string) json_encode(['error' => ['code' => strtolower(str_replace(' ', '-', Response::$statusTexts[$problem->status] ?? 'error')), 'message' => ['lang' => 'en', 'value' => $problem->getMessage()]]], self::FLAGS);
    }
}
