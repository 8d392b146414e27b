<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Curl;

/**
 * The options of curl, and what each means for a request. Those that only concern the terminal, the
 * connection or the output are known, so that only strange ones are listed as such.
 */
final class Option
{
    /** letter → long name */
    public const SHORT = ['X' => 'request', 'H' => 'header', 'u' => 'user', 'd' => 'data', 'G' => 'get', 'I' => 'head', 'F' => 'form', 'A' => 'user-agent', 'e' => 'referer', 'b' => 'cookie', 'k' => 'insecure', 'L' => 'location', 'x' => 'proxy', 'o' => 'output', 'O' => 'remote-name', 's' => 'silent', 'S' => 'show-error', 'v' => 'verbose', 'i' => 'include', 'f' => 'fail', 'm' => 'max-time', 'w' => 'write-out', 'c' => 'cookie-jar', 'T' => 'upload-file', 'r' => 'range', 'E' => 'cert', 'D' => 'dump-header', 'g' => 'globoff', 'N' => 'no-buffer', 'J' => 'remote-header-name', 'C' => 'continue-at', 'K' => 'config', 'U' => 'proxy-user', 'y' => 'speed-time', 'Y' => 'speed-limit', 'z' => 'time-cond', '#' => 'progress-bar', '0' => 'http1.0', '1' => 'tlsv1', '2' => 'sslv2', '3' => 'sslv3', '4' => 'ipv4', '6' => 'ipv6', 'n' => 'netrc', 'q' => 'disable', 'R' => 'remote-time', 'p' => 'proxytunnel', 'a' => 'append', 'B' => 'use-ascii', 'j' => 'junk-session-cookies', 'l' => 'list-only', 'M' => 'manual', 'P' => 'ftp-port', 'Q' => 'quote', 't' => 'telnet-option', 'V' => 'version', 'h' => 'help', 'Z' => 'parallel', ':' => 'next'];

    /** Those that shape the request, with a value. */
    public const SHAPING = ['request', 'header', 'user', 'data', 'data-raw', 'data-ascii', 'data-binary', 'data-urlencode', 'json', 'form', 'form-string', 'user-agent', 'referer', 'cookie', 'url', 'url-query', 'oauth2-bearer', 'upload-file', 'range', 'proxy', 'request-target', 'cert', 'key', 'cacert'];

    /** Those that shape it, without a value. */
    public const SWITCHES = ['get', 'head', 'insecure', 'location', 'compressed', 'next', 'basic', 'digest', 'ntlm', 'negotiate', 'anyauth', 'location-trusted', 'globoff'];

    /** With a value, and without meaning for the request. */
    public const APART = ['output', 'output-dir', 'max-time', 'connect-timeout', 'write-out', 'cookie-jar', 'dump-header', 'retry', 'retry-delay', 'retry-max-time', 'limit-rate', 'max-redirs', 'resolve', 'connect-to', 'interface', 'proxy-user', 'noproxy', 'capath', 'cert-type', 'key-type', 'pass', 'ciphers', 'tls-max', 'keepalive-time', 'speed-time', 'speed-limit', 'trace', 'trace-ascii', 'stderr', 'max-filesize', 'local-port', 'dns-servers', 'unix-socket', 'tls13-ciphers', 'curves', 'happy-eyeballs-timeout-ms', 'expect100-timeout', 'proto', 'proto-default', 'proto-redir', 'parallel-max', 'rate', 'socks5', 'socks5-hostname', 'create-file-mode', 'crlfile', 'pinnedpubkey', 'alt-svc', 'hsts', 'doh-url', 'libcurl'];

    /** Without a value, and without meaning for the request. */
    public const QUIET = ['silent', 'show-error', 'verbose', 'include', 'fail', 'fail-with-body', 'fail-early', 'remote-name', 'remote-name-all', 'remote-header-name', 'no-buffer', 'progress-bar', 'no-progress-meter', 'http1.0', 'http1.1', 'http2', 'http2-prior-knowledge', 'http3', 'tlsv1', 'tlsv1.0', 'tlsv1.1', 'tlsv1.2', 'tlsv1.3', 'sslv2', 'sslv3', 'ssl', 'ssl-no-revoke', 'ssl-revoke-best-effort', 'ipv4', 'ipv6', 'disable', 'remote-time', 'proxytunnel', 'create-dirs', 'junk-session-cookies', 'parallel', 'parallel-immediate', 'retry-all-errors', 'retry-connrefused', 'trace-time', 'path-as-is', 'tcp-nodelay', 'tcp-fastopen', 'no-keepalive', 'keepalive', 'post301', 'post302', 'post303', 'disallow-username-in-url', 'styled-output', 'raw', 'tr-encoding', 'crlf', 'use-ascii', 'no-alpn', 'no-sessionid', 'proxy-insecure', 'xattr', 'no-clobber', 'suppress-connect-headers', 'ssl-reqd', 'no-npn', 'no-include', 'no-silent'];
}
