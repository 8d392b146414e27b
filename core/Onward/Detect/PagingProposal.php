<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Onward\Pagers;

/**
 * A way to get the rest, with why it is thought and what would prove it.
 */
final readonly class PagingProposal
{
    /**
     * @param  array<string, mixed>  $onward  of a source file
     * @param  int  $weight  0 to 100: how surely the sign means this
     */
    public function __construct(public array $onward, public string $reason, public string $proof, public int $weight)
    {
    }

    /**
     * The way and its parameter, in a few words.
     */
    public function title(): string
    {
        return (Pagers::family()->kind((string) $this->onward['style'])->title ?? (string) $this->onward['style']).(isset($this->onward['send_as']) ? " with {$this->onward['send_as']}" : '');
    }

    /**
     * The endpoint with it. What the pager sends from then on is no input any more.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed>
     */
    public function appliedTo(array $endpoint): array
    {
        $endpoint['onward'] = $this->onward;
        $sent = array_filter([$this->onward['send_as'] ?? null, $this->onward['size_as'] ?? null]);
        $endpoint['ask']['inputs'] = array_values(array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => $input['in'] !== 'query' || ! in_array($input['name'], $sent, true)));
        if ($endpoint['ask']['inputs'] === []) {
            unset($endpoint['ask']['inputs']);
        }

        return $endpoint;
    }
}
