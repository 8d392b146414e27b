<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Models\Feed;
use Illuminate\Support\Carbon;

/**
 * What a service of feeds answers to one request.
 */
final readonly class ODataAnswer
{
    /**
     * @param  int  $rows  that were read for it
     * @param  Feed|null  $feed  that was asked
     * @param  string|null  $mark  that differs once the answer does; null where nobody can say
     * @param  array<string, string>  $headers
     * @param  string|null  $reason  why it is no answer
     * @param  list<array{Feed, int}>  $along  other feeds of which rows came along, and how many
     */
    public function __construct(public int $status, public string $type, public string $body, public int $rows = 0, public ?Feed $feed = null, public ?string $mark = null, public ?Carbon $since = null, public array $headers = [], public ?string $reason = null, public array $along = [])
    {
    }
}
