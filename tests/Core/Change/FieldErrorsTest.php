<?php

declare(strict_types=1);

namespace Tests\Core\Change;

use DeepSpring\Change\BoundEndpoint;
use DeepSpring\Change\FieldErrors;
use DeepSpring\SourceFile\EndpointDefinition;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * How services say what is wrong with single fields.
 */
final class FieldErrorsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, array<string, string>}>
     */
    public static function bodies(): iterable
    {
        yield 'a list of fields and problems' => ['{"error": "invalid", "message": "Some fields are not right.", "errors": [{"field": "insurance.value", "problem": "must be a number"}, {"field": "due", "problem": "is required"}]}', ['cover' => 'must be a number', 'due' => 'is required']];
        yield 'RFC 9457 with pointers' => ['{"title": "Unprocessable", "status": 422, "errors": [{"detail": "must be a date", "pointer": "#/due"}, {"detail": "too long", "pointer": "#/insurance/policy"}]}', ['due' => 'must be a date', 'policy' => 'too long']];
        yield 'pointers in sources' => ['{"errors": [{"detail": "is taken", "source": {"pointer": "/data/attributes/due"}}]}', ['due' => 'is taken']];
        yield 'a map of fields' => ['{"message": "Invalid.", "errors": {"due": ["is required", "is no date"], "insurance.policy": "unknown"}}', ['due' => 'is required; is no date', 'policy' => 'unknown']];
        yield 'JSONPath and brackets' => ['{"violations": [{"path": "$.insurance[\'value\']", "message": "negative"}]}', ['cover' => 'negative']];
        yield 'a place as a list' => ['{"details": [{"loc": ["body", "due"], "msg": "field required"}]}', ['due' => 'field required']];
        yield 'OData' => ['{"error": {"code": "400", "message": "Not saved.", "details": [{"code": "1", "target": "insurance/value", "message": "Out of range."}]}}', ['cover' => 'Out of range.']];
        yield 'OData of one field' => ['{"error": {"code": "400", "target": "due", "message": "Out of range."}}', ['due' => 'Out of range.']];
        yield 'OData 2.0' => ['{"error": {"code": "400", "message": {"lang": "en", "value": "Not saved."}}}', ['' => 'Not saved.']];
        yield 'a field nobody knows here' => ['{"message": "Invalid.", "errors": [{"field": "colour", "message": "is needed"}]}', ['' => 'Invalid.; colour is needed']];
        yield 'the name of an input' => ['{"errors": [{"param": "VALUE", "message": "is needed"}]}', ['cover' => 'is needed']];
        yield 'words alone' => ['{"message": "The loan is closed."}', ['' => 'The loan is closed.']];
        yield 'a page' => ['<html><head><title>502</title></head><body><h1>Bad  gateway</h1></body></html>', ['' => '502Bad gateway']];
        yield 'nothing' => ['', []];
        yield 'a number' => ['17', ['' => '17']];
    }

    /**
     * @param  array<string, string>  $expected
     */
    #[DataProvider('bodies')]
    public function test_each_stands_at_its_column(string $body, array $expected): void
    {
        $endpoint = new EndpointDefinition(['slug' => 'c', 'name' => 'C', 'does' => 'update', 'ask' => ['method' => 'PATCH', 'path' => '/loans/{id}', 'inputs' => [
            ['name' => 'id', 'in' => 'path'], ['name' => 'due', 'in' => 'body'], ['name' => 'policy', 'in' => 'body'], ['name' => 'value', 'in' => 'body'],
        ], 'body' => ['as' => 'json', 'of' => json_decode('{"due": {"input": "due"}, "insurance": {"policy": {"input": "policy"}, "value": {"input": "value"}}}')]]]);
        $bound = new BoundEndpoint($endpoint, ['id' => 'loan_id', 'due' => 'due', 'policy' => 'policy', 'value' => 'cover'], 'C');
        self::assertSame($expected, FieldErrors::read($body)->byColumn($bound));
    }
}
