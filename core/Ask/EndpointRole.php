<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * The role of an endpoint for the records it is about.
 */
enum EndpointRole: string
{
    case List = 'list';
    case Get = 'get';
    case Create = 'create';
    case Update = 'update';
    case Delete = 'delete';
    case Call = 'call';

    /**
     * Whether sending it may change something at the service. It is the role that says so, not the
     * method: many services are asked for records by POST.
     */
    public function writes(): bool
    {
        return ! in_array($this, [self::List, self::Get], true);
    }

    /**
     * Statuses that are a success when the endpoint names none (RFC 9110 §15.3).
     *
     * @return list<int>
     */
    public function succeedsWith(): array
    {
        return $this->writes() ? [200, 201, 202, 204] : [200];
    }

    /**
     * The role that a method most likely has; a path that ends in an input means one record.
     */
    public static function guess(string $method, string $path): self
    {
        $one = preg_match('~\}/?$~D', $path) === 1;

        return match (strtoupper($method)) {
            'GET', 'HEAD' => $one ? self::Get : self::List,
            'POST' => $one || preg_match('~\}/[^/{}]+/?$~D', $path) === 1 && preg_match('~/(?:close|cancel|send|run|start|stop|approve|return|open|search|query)/?$~iD', $path) === 1 ? self::Call : self::Create,
            'PUT', 'PATCH', 'MERGE' => self::Update,
            'DELETE' => self::Delete,
            default => Method::isSafe($method) ? self::Get : self::Call,
        };
    }
}
