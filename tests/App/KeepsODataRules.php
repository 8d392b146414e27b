<?php

declare(strict_types=1);

namespace Tests\App;

use Illuminate\Testing\TestResponse;

/**
 * Every answer of a service keeps the rules of the protocol, whatever else a test asks of it.
 */
trait KeepsODataRules
{
    private ?ODataRules $rules = null;

    private function keepsRules(TestResponse $answer, string $address): TestResponse
    {
        $isJson = str_contains((string) $answer->headers->get('Content-Type'), 'json') && ! str_contains($address, '$metadata');
        $body = $isJson ? json_decode((string) $answer->getContent(), true) : null;
        if (is_array($body) && ! str_contains((string) $answer->headers->get('Content-Type'), 'IEEE754Compatible=true')) {
            $this->rules ??= new ODataRules((string) $this->get('/odata/v1/$metadata', ['X-Api-Key' => $this->key])->getContent());
            self::assertContains($answer->headers->get('OData-Version'), ['4.01', '4.0']);
            $answer->getStatusCode() >= 400 ? $this->rules->checkError($body) : $this->rules->check($body, $address);
        }

        return $answer;
    }
}
