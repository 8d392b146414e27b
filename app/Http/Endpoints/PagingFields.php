<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Editing\SettingField;
use DeepSpring\Onward\Pagers;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * The settings of paging, as the sheet of an endpoint shows them.
 */
final readonly class PagingFields
{
    /** Styles that the pages of one window can have. */
    private const INSIDE = ['none', 'page', 'offset', 'cursor', 'next-link', 'link-header'];

    /**
     * @param  array<string, string>  $styles  style → title
     * @param  list<SettingField>  $plain
     * @param  list<SettingField>  $advanced  folded away
     * @param  bool  $isAdvancedSet  whether one of those is set
     * @param  list<SettingField>|null  $inner  null where there is no paging inside
     * @param  array<string, string>  $innerStyles
     */
    private function __construct(public array $styles, public array $plain, public array $advanced, public bool $isAdvancedSet, public ?array $inner, public array $innerStyles, public string $innerStyle)
    {
    }

    /**
     * @param  array<string, mixed>  $onward  of a source file
     */
    public static function of(array $onward): self
    {
        $fields = Pagers::family()->kind($onward['style'])->fields ?? [];
        $shown = static fn (bool $isAdvanced): array => array_values(array_map(
            static fn (Field $field): SettingField => new SettingField($field, "onward-{$field->name}", "onward[{$field->name}]", $onward),
            array_filter($fields, static fn (Field $field): bool => $field->type !== FieldType::Paging && $field->isAdvanced === $isAdvanced),
        ));
        $hasInner = array_filter($fields, static fn (Field $field): bool => $field->type === FieldType::Paging) !== [];
        $inner = $onward['inner'] ?? ['style' => 'none'];
        $isSet = array_filter($fields, static fn (Field $field): bool => $field->isAdvanced && isset($onward[$field->name])) !== [];

        return new self(Pagers::family()->titles(), $shown(false), $shown(true), $isSet, $hasInner ? self::inside($inner) : null, array_intersect_key(Pagers::family()->titles(), array_flip(self::INSIDE)), $inner['style']);
    }

    /**
     * @param  array<string, mixed>  $inner
     * @return list<SettingField>
     */
    private static function inside(array $inner): array
    {
        $fields = array_filter(Pagers::family()->kind($inner['style'])->fields ?? [], static fn (Field $field): bool => ! $field->isAdvanced && $field->name !== 'max_pages');

        return array_values(array_map(static fn (Field $field): SettingField => new SettingField($field, "onward-inner-{$field->name}", "onward[inner][{$field->name}]", $inner), $fields));
    }
}
