<?php

declare(strict_types=1);

namespace DeepSpring\OData\Csdl;

/**
 * A metadata document cannot be understood.
 */
final class UnreadableMetadata extends \RuntimeException
{
    /**
     * @param  int|null  $at  line, counted from 1
     */
    private function __construct(string $message, public readonly ?int $at = null)
    {
        parent::__construct($message);
    }

    public static function isNoXml(string $reason, int $line): self
    {
        return new self("The metadata is no well-formed XML: line $line: ".trim($reason).'.', $line);
    }

    public static function isNoJson(string $reason): self
    {
        return new self("The metadata is no JSON: $reason.");
    }

    public static function isSomethingElse(string $root): self
    {
        return new self("This is no metadata document: it begins with <$root>, and should begin with <edmx:Edmx>.");
    }

    public static function isPage(): self
    {
        return new self('This is a web page, not a metadata document. Often that is a sign-in page: look at the access.');
    }

    public static function hasDoctype(): self
    {
        return new self('The metadata declares a document type, which a service has no need for and which is not read.');
    }

    public static function isOfVersion(string $version): self
    {
        return new self("The metadata is of version $version; versions 1 to 4.01 are read.");
    }

    public static function hasTwice(string $type, string $property): self
    {
        return new self('The metadata declares '.ltrim("$type/$property", '/').' twice, so it is not known which of them holds.');
    }

    /**
     * @param  list<string>  $types
     */
    public static function isCircle(array $types): self
    {
        return new self('The metadata bases types on each other in a circle: '.implode(' → ', $types).'.');
    }

    public static function hasNoSchema(): self
    {
        return new self('The metadata holds no schema.');
    }

    public static function hasNoContainer(): self
    {
        return new self('The metadata has no entity container, so there is nothing to read from.');
    }
}
