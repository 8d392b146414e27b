<?php

declare(strict_types=1);

namespace App\Imports;

use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\SecretMask;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\ImportInput;
use GuzzleHttp\Psr7\Request;

/**
 * Fetches a description from its address, through the same guard as every request.
 */
final readonly class Fetch
{
    private const SECONDS = 30;

    public function __construct(private Transport $transport)
    {
    }

    /**
     * Whether an address is more likely one of a description than a base address.
     */
    public static function looksLikeDescription(string $address): bool
    {
        return preg_match('~^https?://\S+$~i', $address) === 1 && preg_match('~\.(?:json|ya?ml|har|zip)(?:\?\S*)?$|(?:openapi|swagger|api-docs|apidocs)[^/]*/?(?:\?\S*)?$~i', $address) === 1;
    }

    /**
     * @throws CannotDescribe when nothing can be had there
     */
    public function get(string $address): ImportInput
    {
        $bytes = (int) config('spring.limits.description_bytes');
        try {
            $sent = $this->transport->send(new Request('GET', $address, ['accept' => 'application/json, application/yaml, text/yaml, */*;q=0.5']), new Limits(self::SECONDS, 1, $bytes, true), new SecretMask([]));
        } catch (\InvalidArgumentException $invalid) {
            throw CannotDescribe::because("\"$address\" is no address: {$invalid->getMessage()}");
        }
        if ($sent->failing !== null) {
            throw CannotDescribe::because("$address cannot be fetched: ".rtrim($sent->detail, '.').'.');
        }
        if ($sent->status !== 200) {
            throw CannotDescribe::because("$address answered {$sent->status}, so there is nothing to read. Open it in a browser, save the file, and add it here.");
        }
        if (preg_match('/^\s*<(?:!doctype|html)/i', $sent->body) === 1) {
            throw CannotDescribe::because("$address is a web page. Look on it for the address of the OpenAPI file itself, which ends in .json or .yaml more often than not.");
        }

        return ImportArchive::open(new ImportInput($sent->body, basename((string) parse_url($address, PHP_URL_PATH)), (string) $sent->request->getUri()));
    }
}
