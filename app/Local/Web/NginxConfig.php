<?php

declare(strict_types=1);

namespace App\Local\Web;

/**
 * The configuration of nginx: files of public/ by itself, everything else to one of the two pools.
 */
final readonly class NginxConfig
{
    public function __construct(private WebSettings $settings)
    {
    }

    /**
     * In one piece, since it is one text that is read from top to bottom.
     */
    public function text(): string
    {
        $public = self::quoted("{$this->settings->root}/public");
        $temporary = '';
        foreach (['client_body', 'fastcgi', 'proxy', 'scgi', 'uwsgi'] as $kind) {
            $temporary .= "    {$kind}_temp_path ".self::quoted("{$this->settings->folder}/tmp/nginx-$kind").";\n";
        }
        $slow = '';
        foreach (SlowRequests::PATTERNS as $pattern) {
            $slow .= '        '.self::quoted("~$pattern")." slow;\n";
        }

        return <<<NGINX
        daemon off;
        worker_processes 2;
        pid {$this->file('run/nginx.pid')};
        error_log {$this->file('log/nginx.log')} warn;

        events {
            worker_connections 2048;
        }

        http {
            types {
                text/css css;
                text/javascript js;
                font/woff2 woff2;
                image/svg+xml svg;
                image/png png;
                image/x-icon ico;
                text/plain txt;
                application/json json;
            }
            default_type application/octet-stream;
            access_log off;
            server_tokens off;
            sendfile on;
            tcp_nopush on;
            keepalive_timeout 30s;
            client_max_body_size 72m;
            client_body_buffer_size 256k;
            large_client_header_buffers 4 32k;

        $temporary
            gzip on;
            gzip_vary on;
            gzip_comp_level 4;
            gzip_min_length 1024;
            gzip_types text/css text/javascript image/svg+xml application/json application/problem+json application/x-ndjson application/xml text/plain text/csv text/tab-separated-values application/yaml;

            upstream pages {
                server unix:{$this->settings->socket('pages')};
            }
            upstream slow {
                server unix:{$this->settings->socket('slow')};
            }
            map "\$request_method \$request_uri" \$pool {
                default pages;
        $slow    }
            # What kept and served secrets of an address must not be in a log or a cache of a browser.
            map \$http_authorization\$http_x_api_key \$keyed {
                default 1;
                "" "";
            }
            map \$uri \$caching {
                default "no-cache";
                ~^/build/assets/ "public, max-age=31536000, immutable";
            }

            server {
        {$this->listen()}
                root $public;
                # Of what nginx answers by itself, faults among it.
                add_header X-Content-Type-Options nosniff always;
                add_header X-Frame-Options DENY always;
                add_header Content-Security-Policy "default-src 'none'; frame-ancestors 'none'" always;

                location = / {
                    try_files /dev/null @application;
                }
                location / {
                    add_header Cache-Control \$caching;
                    add_header X-Content-Type-Options nosniff always;
                    add_header X-Frame-Options DENY always;
                    try_files \$uri @application;
                }
                # The application has no file of PHP that anybody asks for by its name.
                location ~ [.]php(/|\$) {
                    return 404;
                }
                # Rows for programs: who sends a key brings no cookie, and nobody else can make a browser send one.
                location ~ ^/(feeds|odata2?)/ {
                    error_page 418 = @keyed;
                    if (\$keyed) {
                        return 418;
                    }
                    try_files /dev/null @application;
                }
                location @keyed {
                    # The application says its own; a header here, though empty, keeps those above away.
                    add_header X-Own "";
        {$this->application()}
                }
                location @application {
                    # Compressing what holds both a token and what somebody else may choose tells the token (BREACH).
                    gzip off;
                    # The application says its own; a header here, though empty, keeps those above away.
                    add_header X-Own "";
        {$this->application()}
                }
            }
        }

        NGINX;
    }

    private function listen(): string
    {
        $address = str_contains($this->settings->address, ':') ? "[{$this->settings->address}]" : $this->settings->address;
        $listen = "$address:{$this->settings->port}";
        if ($this->settings->certificate === null) {
            return "        listen $listen backlog=1024;";
        }
        [$certificate, $key] = array_map(self::quoted(...), $this->settings->certificate);

        return <<<TLS
                listen $listen ssl http2 backlog=1024;
                ssl_certificate $certificate;
                ssl_certificate_key $key;
                ssl_protocols TLSv1.2 TLSv1.3;
                ssl_session_cache shared:tls:2m;
                # Somebody who asks in clear text is told the right address.
                error_page 497 =301 https://\$http_host\$request_uri;
        TLS;
    }

    private function file(string $below): string
    {
        return self::quoted("{$this->settings->folder}/$below");
    }

    private function quotedPath(string $below): string
    {
        return self::quoted("{$this->settings->root}/$below");
    }

    /**
     * A dollar would begin a variable.
     */
    private static function quoted(string $text): string
    {
        return '"'.strtr($text, ['\\' => '\\\\', '"' => '\\"']).'"';
    }

    /**
     * How a request is handed to the application.
     */
    private function application(): string
    {
        $public = $this->quotedPath('public');

        return <<<NGINX
                    fastcgi_pass \$pool;
                    fastcgi_read_timeout 700s;
                    fastcgi_send_timeout 60s;
                    fastcgi_buffers 32 32k;
                    fastcgi_buffer_size 64k;
                    fastcgi_max_temp_file_size 2048m;
                    fastcgi_param SCRIPT_FILENAME {$this->quotedPath('public/index.php')};
                    fastcgi_param SCRIPT_NAME /index.php;
                    fastcgi_param DOCUMENT_ROOT $public;
                    fastcgi_param QUERY_STRING \$query_string;
                    fastcgi_param REQUEST_METHOD \$request_method;
                    fastcgi_param REQUEST_URI \$request_uri;
                    fastcgi_param CONTENT_TYPE \$content_type;
                    fastcgi_param CONTENT_LENGTH \$content_length;
                    fastcgi_param SERVER_PROTOCOL \$server_protocol;
                    fastcgi_param REQUEST_SCHEME \$scheme;
                    fastcgi_param HTTPS \$https if_not_empty;
                    fastcgi_param REMOTE_ADDR \$remote_addr;
                    fastcgi_param REMOTE_PORT \$remote_port;
                    fastcgi_param SERVER_ADDR \$server_addr;
                    fastcgi_param SERVER_PORT \$server_port;
                    fastcgi_param SERVER_NAME \$host;
                    fastcgi_param REDIRECT_STATUS 200;
                    fastcgi_param HTTP_PROXY "";
                    fastcgi_param SPRING_POOL \$pool;
        NGINX;
    }
}
