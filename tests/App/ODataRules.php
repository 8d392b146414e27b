<?php

declare(strict_types=1);

namespace Tests\App;

use PHPUnit\Framework\Assert;

/**
 * Rules of OData 4.01 that an answer has to keep, looked up in the service's own metadata in XML, which is read here by
 * plain DOM and not by the application.
 */
final readonly class ODataRules
{
    /** OData JSON 4.01 §7.1 and the ABNF of literals. */
    private const VALUES = [
        'Edm.Date' => '/^\d{4}-\d\d-\d\d$/D', 'Edm.DateTimeOffset' => '/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,12})?Z$/D', 'Edm.TimeOfDay' => '/^\d\d:\d\d:\d\d(?:\.\d{1,12})?$/D',
        'Edm.Guid' => '/^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/D', 'Edm.String' => '/^.*$/Dsu',
    ];

    private \DOMXPath $model;

    public function __construct(string $metadata)
    {
        $document = new \DOMDocument;
        Assert::assertTrue($document->loadXML($metadata));
        Assert::assertSame('http://docs.oasis-open.org/odata/ns/edmx', $document->documentElement?->namespaceURI);
        $this->model = new \DOMXPath($document);
        $this->model->registerNamespace('e', 'http://docs.oasis-open.org/odata/ns/edm');
        $this->checkModel();
    }

    /**
     * CSDL 4.01 §6.5, §8.1, §13.4: keys are properties that are never null, types and targets exist, names are unique.
     */
    private function checkModel(): void
    {
        foreach ($this->nodes('//e:EntityType') as $type) {
            $names = array_map(static fn (\DOMElement $one): string => $one->getAttribute('Name'), $this->nodes('e:Property|e:NavigationProperty', $type));
            Assert::assertSame(count($names), count(array_unique(array_map(strtolower(...), $names))));
            $keys = $this->nodes('e:Key/e:PropertyRef', $type);
            Assert::assertNotSame([], $keys);
            foreach ($keys as $key) {
                $property = $this->nodes("e:Property[@Name='{$key->getAttribute('Name')}']", $type)[0] ?? Assert::fail('A key is no property.');
                Assert::assertSame('false', $property->getAttribute('Nullable'));
            }
            foreach ($names as $name) {
                Assert::assertMatchesRegularExpression('/^[\p{L}_][\p{L}\p{Nd}_]{0,127}$/Du', $name);
            }
        }
        foreach ($this->nodes('//e:EntitySet') as $set) {
            $type = $this->typeOf($set->getAttribute('Name'));
            foreach ($this->nodes('e:NavigationPropertyBinding', $set) as $binding) {
                Assert::assertCount(1, $this->nodes("e:NavigationProperty[@Name='{$binding->getAttribute('Path')}']", $type));
                $this->typeOf($binding->getAttribute('Target'));
            }
        }
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    public function check(array $answer, string $address): void
    {
        $context = $answer['@odata.context'] ?? Assert::fail("No context: $address");
        Assert::assertIsString($context);
        Assert::assertSame(1, preg_match('~^https?://[^#]+/\$metadata(?:#(\w+)(\((.*)\))?(/\$entity)?(?:/\w+)?)?$~D', $context, $part, PREG_UNMATCHED_AS_NULL), $context);
        // Annotations come first, or behind what they annotate (§4.5); the next page is an absolute address here.
        Assert::assertSame('@odata.context', array_key_first($answer));
        isset($answer['@odata.count']) && Assert::assertIsInt($answer['@odata.count']);
        isset($answer['@odata.nextLink']) && Assert::assertMatchesRegularExpression('~^https?://~', $answer['@odata.nextLink']);
        if (($part[1] ?? null) === null || preg_match('~#\w+(?:\([^)]*\))?/\w+$~', $context) === 1 || str_contains($address, 'apply=')) {
            return;
        }
        $rows = ($part[4] ?? null) === null ? $answer['value'] ?? Assert::fail("No value: $address") : [array_filter($answer, static fn (string $name): bool => ! str_starts_with($name, '@'), ARRAY_FILTER_USE_KEY)];
        Assert::assertIsArray($rows);
        Assert::assertTrue(array_is_list($rows));
        foreach ($rows as $row) {
            $this->row($row, $this->typeOf((string) $part[1]), ($part[3] ?? '') === '', $address);
        }
    }

    /**
     * @param  array<string, mixed>  $row
     */
    private function row(array $row, \DOMElement $type, bool $isWhole, string $address): void
    {
        foreach ($row as $name => $value) {
            if (str_contains($name, '@')) {
                Assert::assertMatchesRegularExpression('/^\w+@odata\.count$/D', $name);

                continue;
            }
            $way = $this->nodes("e:NavigationProperty[@Name='$name']", $type)[0] ?? null;
            if ($way !== null) {
                $isMany = preg_match('/^Collection\((.+)\)$/D', $way->getAttribute('Type'), $of) === 1;
                $to = $this->nodes("//e:EntityType[@Name='".substr((string) strrchr($isMany ? $of[1] : $way->getAttribute('Type'), '.'), 1)."']")[0] ?? Assert::fail("$name leads nowhere.");
                Assert::assertTrue($isMany ? is_array($value) && array_is_list($value) : $value === null || is_array($value) && ! array_is_list($value), "$name in $address");
                foreach ($isMany ? $value : array_filter([$value]) as $one) {
                    $this->row($one, $to, false, $address);
                }

                continue;
            }
            $property = $this->nodes("e:Property[@Name='$name']", $type)[0] ?? Assert::fail("$name is in no metadata: $address");
            if ($value === null) {
                Assert::assertNotSame('false', $property->getAttribute('Nullable'), "$name is null: $address");

                continue;
            }
            $kind = $property->getAttribute('Type');
            match ($kind) {
                'Edm.Int64' => Assert::assertIsInt($value), 'Edm.Boolean' => Assert::assertIsBool($value), 'Edm.Double', 'Edm.Decimal' => Assert::assertTrue(is_int($value) || is_float($value), $name),
                default => Assert::assertMatchesRegularExpression(self::VALUES[$kind], $value, $name),
            };
        }
        if ($isWhole) {
            Assert::assertSame([], array_diff(array_map(static fn (\DOMElement $one): string => $one->getAttribute('Name'), $this->nodes('e:Property', $type)), array_keys($row)), "Properties are missing: $address");
        }
    }

    /**
     * §21: an error has a code and a message, and nothing else stands beside it.
     *
     * @param  array<string, mixed>  $answer
     */
    public function checkError(array $answer): void
    {
        Assert::assertSame(['error'], array_keys($answer));
        Assert::assertNotSame('', $answer['error']['code']);
        Assert::assertNotSame('', $answer['error']['message']);
    }

    private function typeOf(string $set): \DOMElement
    {
        $found = $this->nodes("//e:EntitySet[@Name='$set']")[0] ?? Assert::fail("There is no set $set in the metadata.");
        $name = substr((string) strrchr($found->getAttribute('EntityType'), '.'), 1);

        return $this->nodes("//e:EntityType[@Name='$name']")[0] ?? Assert::fail("There is no type $name.");
    }

    /**
     * @return list<\DOMElement>
     */
    private function nodes(string $path, ?\DOMElement $in = null): array
    {
        $found = $this->model->query($path, $in);

        return array_values(array_filter($found === false ? [] : iterator_to_array($found), static fn (mixed $one): bool => $one instanceof \DOMElement));
    }
}
