<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * What a service handed out to prove who is asking, for a time.
 */
final readonly class AccessToken
{
    /** Seconds before its end at which a token is replaced. */
    private const MARGIN = 60;

    /**
     * @param  int|null  $expiresAt  seconds since 1970; null when the service did not say
     * @param  array<string, string>  $cookies  to be sent along with it
     */
    public function __construct(
        #[\SensitiveParameter] public string $value,
        public int $obtainedAt,
        public ?int $expiresAt = null,
        #[\SensitiveParameter] public ?string $refresh = null,
        public ?string $scope = null,
        public array $cookies = [],
    ) {
    }

    /**
     * Whether it will do for a request at this time. One that lives less than two minutes is used
     * for half its life.
     */
    public function isFresh(int $now): bool
    {
        if ($this->obtainedAt > $now + self::MARGIN) {
            // A clock was ahead when it came, so when it ends is not known.
            return false;
        }

        return $this->expiresAt === null || $now < $this->expiresAt - min(self::MARGIN, intdiv($this->expiresAt - $this->obtainedAt, 2));
    }

    /**
     * The same, to be replaced before it is used.
     */
    public function spent(): self
    {
        return new self($this->value, $this->obtainedAt, 0, $this->refresh, $this->scope, $this->cookies);
    }

    /**
     * What of it must not be shown.
     *
     * @return list<string>
     */
    public function sensitive(): array
    {
        return array_values(array_filter([$this->value, $this->refresh, ...array_values($this->cookies)], static fn (?string $one): bool => $one !== null && $one !== ''));
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return get_object_vars($this);
    }

    /**
     * @param  array<string, mixed>  $of  as `toArray` gives it
     */
    public static function fromArray(#[\SensitiveParameter] array $of): self
    {
        return new self($of['value'], $of['obtainedAt'], $of['expiresAt'] ?? null, $of['refresh'] ?? null, $of['scope'] ?? null, $of['cookies'] ?? []);
    }
}
