<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;

/**
 * Settings that several styles of paging have in common.
 */
final class PagingSettings
{
    private const PLACES = ['query' => 'in the query', 'body' => 'in the body', 'header' => 'in a header', 'path' => 'in the path'];

    public static function sendAs(string $what, string $start = ''): Field
    {
        return new Field('send_as', FieldType::Parameter, 'parameter', "The parameter that carries $what; in a body, dots lead into objects.", true, start: $start === '' ? null : $start);
    }

    public static function in(string ...$places): Field
    {
        return new Field('in', FieldType::Choice, 'sent', 'Where the parameter goes.', default: 'query', choices: array_intersect_key(self::PLACES, array_flip($places)));
    }

    /**
     * @return list<Field> how much is asked for at a time
     */
    public static function size(): array
    {
        return [
            new Field('size', FieldType::Size, 'page size', 'Records asked for at a time.'),
            new Field('size_as', FieldType::Parameter, 'page-size parameter', 'The parameter that carries the page size.', example: 'limit'),
        ];
    }

    public static function total(bool $isAdvanced = false): Field
    {
        return new Field('total', FieldType::Figure, 'total at', 'Where the number of all records stands.', example: '$.total or a header', isAdvanced: $isAdvanced);
    }

    public static function endOn(): Field
    {
        return new Field('end_on', FieldType::Statuses, 'statuses past the end', 'Statuses that mean there is no such page.', example: '404', isAdvanced: true);
    }

    public static function anyOrigin(): Field
    {
        return new Field('any_origin', FieldType::Flag, 'links may lead to another origin', 'Whether links to another origin are followed, without access.', default: false, isAdvanced: true);
    }

    /**
     * @return list<Field> ends that hold for any style
     */
    public static function ends(bool $withShortPages = true): array
    {
        $short = new Field('short_page_ends', FieldType::Flag, 'a page that is not full is the last', 'Whether a page with fewer records than asked for is the last one.', default: false, isAdvanced: true);

        return [
            new Field('max_pages', FieldType::Count, 'max. pages', 'Pages that are read at most; a list that is cut short by it says so.'),
            ...($withShortPages ? [$short] : []),
            new Field('max_records', FieldType::Count, 'max. records', 'Records after which no further page is asked for.', isAdvanced: true),
        ];
    }
}
