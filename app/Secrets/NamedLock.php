<?php

declare(strict_types=1);

namespace App\Secrets;

use Illuminate\Database\Connection;

/**
 * A lock of the database that one connection holds. It ends with the connection, so a process that
 * dies gives it up whatever killed it.
 */
final readonly class NamedLock
{
    public function __construct(private Connection $connection, public string $name)
    {
    }

    public static function of(Connection $connection, string ...$parts): self
    {
        return new self($connection, LockName::of(...$parts));
    }

    /**
     * @param  int  $seconds  that it is waited for
     */
    public function take(int $seconds = 0): bool
    {
        return (int) ($this->connection->selectOne('select get_lock(?, ?) as got', [$this->name, $seconds], false)->got ?? 0) === 1;
    }

    /**
     * Takes it only where nobody holds it, not even this connection.
     */
    public function takeFree(): bool
    {
        return $this->holder() === null && $this->take();
    }

    public function release(): void
    {
        $this->connection->selectOne('select release_lock(?)', [$this->name], false);
    }

    /**
     * @return int|null the connection that holds it
     */
    public function holder(): ?int
    {
        $id = $this->connection->selectOne('select is_used_lock(?) as id', [$this->name], false)->id ?? null;

        return $id === null ? null : (int) $id;
    }
}
