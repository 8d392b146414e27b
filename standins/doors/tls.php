<?php

declare(strict_types=1);

/*
 * A door with TLS: php tls.php PORT KIND FOLDER. Writes ca.pem, client.pem and client.key into the
 * folder and answers every request with JSON until it is stopped.
 */
[, $port, $kind, $folder] = $argv + [1 => '8449', 'good', sys_get_temp_dir()];
$kind = (string) $kind;
file_put_contents("$folder/openssl.cnf", "[req]\ndistinguished_name=dn\n[dn]\n[ca]\nbasicConstraints=critical,CA:TRUE\n[good]\nsubjectAltName=IP:127.0.0.1,DNS:localhost\n[other]\nsubjectAltName=DNS:other.saltmarsh.example\n[client]\nextendedKeyUsage=clientAuth\n");
$sign = static function (string $name, string $extensions, int $days, ?array $by) use ($folder): array {
    $options = ['digest_alg' => 'sha256', 'config' => "$folder/openssl.cnf", 'x509_extensions' => $extensions, 'private_key_type' => OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1', 'private_key_bits' => 2048, 'encrypt_key' => false];
    $key = openssl_pkey_new($options) ?: throw new RuntimeException('No key can be made.');
    $request = openssl_csr_new(['CN' => $name, 'O' => 'Saltmarsh Circle'], $key, $options);
    $certificate = $request instanceof OpenSSLCertificateSigningRequest ? openssl_csr_sign($request, $by[0] ?? null, $by[1] ?? $key, $days, $options, random_int(1, PHP_INT_MAX)) : false;
    openssl_x509_export($certificate ?: throw new RuntimeException('No certificate can be made.'), $pem);
    openssl_pkey_export($key, $private, null, $options);

    return [$pem, $private];
};
$ca = $sign('Circle authority', 'ca', 30, null);
$server = $kind === 'self-signed' ? $sign('localhost', 'good', 30, null) : $sign('doors', $kind === 'other-name' ? 'other' : 'good', $kind === 'expired' ? 0 : 30, $ca);
$client = $sign('circle-desk', 'client', 9, $ca);
file_put_contents("$folder/server.pem", $server[0].$server[1]);
foreach (['ca.pem' => $ca[0], 'client.pem' => $client[0], 'client.key' => $client[1]] as $file => $text) {
    file_put_contents("$folder/$file", $text);
}
// Its certificate ended when it was made.
sleep($kind === 'expired' ? 2 : 0);
$context = stream_context_create(['ssl' => ['local_cert' => "$folder/server.pem", 'verify_peer' => $kind === 'client', 'verify_peer_name' => false, 'cafile' => "$folder/ca.pem", 'capture_peer_cert' => true]]);
$listening = stream_socket_server("tcp://127.0.0.1:$port", $number, $error, STREAM_SERVER_BIND | STREAM_SERVER_LISTEN, $context);
if ($listening === false) {
    fwrite(STDERR, "$error\n");
    exit(1);
}
file_put_contents("$folder/ready", '1');
for (; ;) {
    $caller = @stream_socket_accept($listening, 3600);
    if ($caller === false) {
        continue;
    }
    stream_set_timeout($caller, 3);
    if (@stream_socket_enable_crypto($caller, true, STREAM_CRYPTO_METHOD_TLS_SERVER) === true) {
        $peer = stream_context_get_options($caller)['ssl']['peer_certificate'] ?? null;
        $who = $peer === null ? null : openssl_x509_parse($peer)['subject']['CN'] ?? null;
        $head = '';
        while (! str_contains($head, "\r\n\r\n") && ($part = fread($caller, 8192)) !== false && $part !== '') {
            $head .= $part;
        }
        $body = (string) json_encode(['open' => true, 'who' => $who]);
        @fwrite($caller, "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: ".strlen($body)."\r\nConnection: close\r\n\r\n$body");
    }
    fclose($caller);
}
