<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

use DeepSpring\OData\Filter\Node\FilterAmong;
use DeepSpring\OData\Filter\Node\FilterArithmetic;
use DeepSpring\OData\Filter\Node\FilterCall;
use DeepSpring\OData\Filter\Node\FilterComparison;
use DeepSpring\OData\Filter\Node\FilterConstant;
use DeepSpring\OData\Filter\Node\FilterJoined;
use DeepSpring\OData\Filter\Node\FilterLambda;
use DeepSpring\OData\Filter\Node\FilterMember;
use DeepSpring\OData\Filter\Node\FilterNegated;
use DeepSpring\OData\Filter\Node\FilterNode;
use DeepSpring\OData\Filter\Node\FilterReference;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\InvalidLiteral;
use DeepSpring\OData\Url\ODataLiteral;
use DeepSpring\Value\NearestName;

/**
 * A filter against what the service says of itself: names, types, literals of the version, and what
 * cannot be filtered.
 *
 * In one piece, since it has one method for each kind of node, and they call each other.
 */
final class Check
{
    /** Types whose literals can stand for each other. */
    private const NUMBERS = ['Edm.Byte', 'Edm.SByte', 'Edm.Int16', 'Edm.Int32', 'Edm.Int64', 'Edm.Decimal', 'Edm.Single', 'Edm.Double'];

    private const WHOLE = ['Edm.Byte', 'Edm.SByte', 'Edm.Int16', 'Edm.Int32', 'Edm.Int64'];

    /** @var list<FilterFinding> */
    private array $findings = [];

    /** @var array<string, string> variable → type */
    private array $variables = [];

    /** @var list<string> */
    private array $named = [];

    private readonly ODataVersion $version;

    public function __construct(private readonly Model $model, private readonly StructuredType $type, private readonly ?EntitySet $set = null)
    {
        $this->version = $model->version;
    }

    /**
     * @return list<FilterFinding>
     *
     * @throws InvalidFilter
     */
    public function filter(string $filter): array
    {
        $this->findings = [];
        $this->named = [];
        if ($this->set?->can('filter') === false) {
            $this->find("The service says that {$this->set->name} cannot be filtered.", 0);
        }
        $type = $this->typeOf(FilterParser::parse($filter));
        if ($type !== '' && $type !== 'Edm.Boolean') {
            $this->find("A filter is true or false for each record; this one gives $type.", 0);
        }
        foreach (array_diff($this->set?->requiredInFilter() ?? [], $this->named) as $missing) {
            $this->find("The service wants \"$missing\" in every filter of {$this->set?->name}.", mb_strlen($filter, 'UTF-8'));
        }

        return $this->findings;
    }

    /**
     * Names to sort by.
     *
     * @return list<FilterFinding>
     */
    public function order(string $order): array
    {
        $this->findings = [];
        $at = 0;
        foreach (explode(',', $order) as $one) {
            $path = trim((string) preg_replace('/\s+(?:asc|desc)$/i', '', trim($one)));
            if ($this->set?->can('sort') === false) {
                return [new FilterFinding("The service says that {$this->set->name} cannot be sorted.", 0)];
            }
            if ($path === '') {
                $this->find('Between the commas stands nothing to sort by.', $at);
            } elseif (preg_match('~^[\p{L}_][\p{L}\p{N}_.]*(/[\p{L}_$][\p{L}\p{N}_.]*)*$~Du', $path) === 1) {
                $this->resolve(explode('/', $path), $at, 'sort');
            }
            $at += mb_strlen($one, 'UTF-8') + 1;
        }

        return $this->findings;
    }

    /**
     * The type of what a part gives; "" when it is not known.
     */
    private function typeOf(FilterNode $node): string
    {
        return match (true) {
            $node instanceof FilterConstant => $this->constant($node),
            $node instanceof FilterMember => $this->resolve($node->steps, $node->at()),
            $node instanceof FilterJoined => $this->joined($node),
            $node instanceof FilterNegated => $this->negated($node),
            $node instanceof FilterComparison => $this->comparison($node),
            $node instanceof FilterAmong => $this->among($node),
            $node instanceof FilterArithmetic => $this->arithmetic($node),
            $node instanceof FilterCall => $this->call($node),
            $node instanceof FilterLambda => $this->lambda($node),
            $node instanceof FilterReference => $this->reference($node),
            default => '',
        };
    }

    private function joined(FilterJoined $node): string
    {
        $this->typeOf($node->left);
        $this->typeOf($node->right);

        return 'Edm.Boolean';
    }

    private function negated(FilterNegated $node): string
    {
        $this->typeOf($node->of);

        return 'Edm.Boolean';
    }

    private function arithmetic(FilterArithmetic $node): string
    {
        $left = $this->typeOf($node->left);
        $node->right === null || $this->typeOf($node->right);

        return in_array($left, self::NUMBERS, true) ? '' : $left;
    }

    /**
     * Literals that the version at hand writes in another way.
     */
    private function constant(FilterConstant $node): string
    {
        $isOld = preg_match('/^(?:datetime|datetimeoffset|time|guid|x)\'/i', $node->text) === 1 || preg_match('/^-?[\d.]+[lLmMdDfF]$/D', $node->text) === 1;
        $isNew = in_array($node->type, ['Edm.Date', 'Edm.TimeOfDay', 'Edm.Duration'], true) || in_array($node->type, ['Edm.DateTimeOffset', 'Edm.Guid'], true) && ! str_contains($node->text, "'");
        if ($this->version->isV4() && $isOld) {
            $plain = str_contains($node->text, "'") ? trim((string) strstr($node->text, "'"), "'") : rtrim($node->text, 'lLmMdDfF');
            $plain = $node->type === 'Edm.DateTime' && preg_match('/(?:Z|[+-]\d\d:\d\d)$/', $plain) !== 1 ? (str_contains($plain, 'T') ? $plain.'Z' : $plain) : $plain;
            $this->find("Version 4 writes $plain, not $node->text.", $node->at(), $plain);

            return $node->type === 'Edm.DateTime' ? 'Edm.DateTimeOffset' : $node->type;
        }
        if (! $this->version->isV4() && $isNew) {
            $plain = trim((string) (strstr($node->text, "'") ?: $node->text), "'");
            $instead = match ($node->type) {
                'Edm.Guid' => "guid'$plain'",
                'Edm.TimeOfDay', 'Edm.Duration' => null,
                'Edm.Date' => "datetime'{$plain}T00:00:00'",
                default => "datetimeoffset'$plain'",
            };
            $this->find("Version {$this->version->value} writes ".($instead ?? "time'PT9H30M'").", not $node->text.", $node->at(), $instead);

            return in_array($node->type, ['Edm.Date', 'Edm.DateTimeOffset'], true) ? '' : $node->type;
        }

        return $node->type;
    }

    private function comparison(FilterComparison $node): string
    {
        $before = count($this->findings);
        $isList = $node->right instanceof FilterConstant && str_starts_with($node->right->text, '[');
        $left = $isList && $node->left instanceof FilterMember ? $this->resolve($node->left->steps, $node->left->at(), 'filter', true) : $this->typeOf($node->left);
        $right = $this->typeOf($node->right);
        if (count($this->findings) === $before) {
            $node->right instanceof FilterConstant ? $this->fits($left, $node->right, $right) : ($node->left instanceof FilterConstant && $this->fits($right, $node->left, $left));
        }

        return 'Edm.Boolean';
    }

    private function among(FilterAmong $node): string
    {
        $left = $this->typeOf($node->left);
        if (! $this->version->isV4()) {
            $this->find("Version {$this->version->value} has no \"in\"; write each value with eq, and \"or\" between them.", $node->at());

            return 'Edm.Boolean';
        }
        foreach ($node->items as $item) {
            $type = $item instanceof FilterMember ? $this->resolve($item->steps, $item->at(), 'filter', true) : $this->typeOf($item);
            $item instanceof FilterConstant && $this->fits($left, $item, $type);
        }

        return 'Edm.Boolean';
    }

    /**
     * Whether a literal can be compared with something of a type.
     */
    private function fits(string $type, FilterConstant $constant, string $written): void
    {
        if ($type === '' || $written === '' || $type === $written) {
            $this->fitsRange($type, $constant);

            return;
        }
        $value = str_starts_with($constant->text, "'") ? str_replace("''", "'", substr($constant->text, 1, -1)) : (str_contains($constant->text, "'") ? substr((string) strstr($constant->text, "'"), 1, -1) : $constant->text);
        $members = $this->model->members($type);
        $primitive = $this->model->primitive($type);
        if ($members === null && ($primitive === $written || in_array($primitive, self::NUMBERS, true) && in_array($written, self::NUMBERS, true))) {
            $this->fitsRange($primitive, $constant);

            return;
        }
        if ($members !== null && $written === 'Edm.String' && $this->version->isV4() && isset($members[$value])) {
            // 4.01 takes an enumeration's member as a text; 4.0 wants its type.
            if ($this->model->written !== '4.01') {
                $this->find("Version 4.0 writes the member with its type: $type'$value'.", $constant->at(), "$type'$value'");
            }

            return;
        }
        try {
            $instead = (new ODataLiteral($this->version, $this->model))->write($value, $type);
        } catch (InvalidLiteral $invalid) {
            $this->find($invalid->getMessage(), $constant->at());

            return;
        }
        if ($instead !== $constant->text) {
            $short = str_starts_with($primitive, 'Edm.') && $members === null ? substr($primitive, 4) : $type;
            $this->find("What is compared is a $short, so the value is written $instead.", $constant->at(), $instead);
        }
    }

    /**
     * A whole number beyond what a property can hold is compared with nothing.
     */
    private function fitsRange(string $primitive, FilterConstant $constant): void
    {
        if (! in_array($primitive, self::WHOLE, true) || preg_match('/^-?\d+(?=[lL]?$)/D', $constant->text, $digits) !== 1) {
            return;
        }
        try {
            (new ODataLiteral($this->version))->write($digits[0], $primitive);
        } catch (InvalidLiteral $invalid) {
            $this->find($invalid->getMessage(), $constant->at());
        }
    }

    private function call(FilterCall $node): string
    {
        $known = Functions::of($this->version);
        $mayBeMany = in_array($node->name, ['cast', 'isof'], true);
        $types = array_map(fn (FilterNode $one): string => $mayBeMany && $one instanceof FilterMember ? $this->resolve($one->steps, $one->at(), 'filter', true) : $this->typeOf($one), $node->arguments);
        if (! isset($known[$node->name])) {
            if (str_contains($node->name, '.') || $node->name === 'Collection') {
                return '';
            }
            $elsewhere = Functions::elsewhere($node->name, $this->version);
            $nearest = NearestName::to($node->name, array_map(strval(...), array_keys($known)));
            $this->find("There is no function \"$node->name\" in version {$this->version->value}".($elsewhere !== null ? "; write $elsewhere." : ($nearest !== null ? "; \"$nearest\" was probably meant." : '.')), $node->at(), $elsewhere === null ? $nearest : null);

            return '';
        }
        [$least, $most, $gives] = $known[$node->name];
        if (count($node->arguments) < $least || count($node->arguments) > $most) {
            $this->find("$node->name takes ".($least === $most ? (string) $least : "$least to $most").' values, not '.count($node->arguments).'.', $node->at());
        } elseif (in_array($node->name, ['contains', 'startswith', 'endswith', 'substringof'], true)) {
            foreach ($types as $place => $type) {
                if ($type !== '' && $this->model->primitive($type) !== 'Edm.String' && $node->arguments[$place] instanceof FilterMember) {
                    $this->find("$node->name looks into texts, and ".implode('/', $node->arguments[$place]->steps)." is $type.", $node->arguments[$place]->at());
                }
            }
        }
        $allowed = $this->set?->functions();
        if ($allowed !== null && ! in_array($node->name, $allowed, true)) {
            $this->find("The service says that filters of {$this->set->name} cannot use $node->name; they can use ".implode(', ', $allowed).'.', $node->at());
        }

        return $gives;
    }

    /**
     * What stands in parentheses on the way is looked at; what it all gives is not known.
     */
    private function reference(FilterReference $node): string
    {
        foreach ($node->parts as $part) {
            // Of a path that goes on behind this, the end is not what is compared.
            $part instanceof FilterMember || $this->typeOf($part);
        }

        return '';
    }

    private function lambda(FilterLambda $node): string
    {
        if ($this->version === ODataVersion::V2) {
            $this->find('Version 2 cannot look into a collection with any or all.', $node->at());
        }
        $type = $node->over instanceof FilterReference ? $this->reference($node->over) : $this->resolve($node->over->steps, $node->over->at(), 'filter', true);
        if ($node->of !== null) {
            $before = $this->variables;
            $this->variables[$node->variable] = $type;
            $this->typeOf($node->of);
            $this->variables = $before;
        }

        return 'Edm.Boolean';
    }

    /**
     * Walks a path; what is not known or not allowed is told.
     *
     * In one piece, since each step decides from what type the next one goes on.
     *
     * @param  non-empty-list<string>  $steps
     */
    private function resolve(array $steps, int $at, string $what = 'filter', bool $many = false): string
    {
        $type = $this->type;
        $names = $steps;
        if (isset($this->variables[$names[0]])) {
            $variable = array_shift($names);
            if ($names === []) {
                return $this->variables[$variable];
            }
            $type = $this->model->type($this->variables[$variable]);
        } elseif ($names[0] === '$it') {
            array_shift($names);
        } elseif (str_starts_with($names[0], '@') || $names[0] === '$root') {
            // The value of a parameter, the element at work, another set: their types are not followed.
            return '';
        }
        $path = '';
        foreach ($names as $place => $name) {
            if ($type === null || $name === '$count') {
                return $name === '$count' ? 'Edm.Int64' : '';
            }
            if (str_contains($name, '.')) {
                // A cast to a type that is based on this one.
                $type = $this->model->type($name) ?? $type;

                continue;
            }
            $path = ltrim("$path/$name", '/');
            $isLast = $place === count($names) - 1;
            $property = $type->property($name);
            $navigation = $type->navigation($name);
            if ($property === null && $navigation === null) {
                if (! $type->open) {
                    $nearest = NearestName::to($name, [...array_map(strval(...), array_keys($type->properties)), ...array_map(strval(...), array_keys($type->navigations))]);
                    $this->find("{$type->shortName()} has no \"$name\"".($nearest !== null ? "; \"$nearest\" was probably meant." : '.'), $at, count($steps) === 1 ? $nearest : null);
                }

                return '';
            }
            $this->named[] = $path;
            $this->allowed($path, $name, $what, $at, $property === null || ($what === 'filter' ? $property->filterable : $property->sortable));
            if (($property->many ?? $navigation->many ?? false) && ! ($isLast && $many) && ($names[$place + 1] ?? '') !== '$count') {
                $this->find("$path is a collection: ".($what === 'sort' ? 'sort by its $count, or by something single.' : "look into it with $path/any(x:x/… eq …)."), $at);

                return '';
            }
            $next = $property->type ?? $navigation->type ?? '';
            if ($isLast) {
                return $next;
            }
            $type = $this->model->type($next);
        }

        return '';
    }

    private function allowed(string $path, string $name, string $what, int $at, bool $can): void
    {
        $verb = $what === 'filter' ? 'filter by' : 'sort by';
        if (! $can || in_array($path, $this->set?->not($what) ?? [], true)) {
            $this->find("The service says that it cannot $verb $path.", $at);
        }
    }

    private function find(string $sentence, int $at, ?string $instead = null): void
    {
        $this->findings[] = new FilterFinding($sentence, $at, $instead);
    }
}
