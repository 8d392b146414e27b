<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\DoorAccount;

/**
 * What the usual drivers are given to reach the door; the password stands nowhere in it.
 */
final class DoorStrings
{
    /**
     * @return array<string, string> by the kind of the tool
     */
    public static function of(DoorAccount $account, string $door): array
    {
        $at = (int) strrpos($door, ':');
        $host = trim(substr($door, 0, $at), '[]');
        $port = substr($door, $at + 1);
        $schema = $account->environment->schema();

        return [
            'mariadb' => "mariadb --host=$host --port=$port --user=$account->name --password --ssl-ca=door.crt --ssl-verify-server-cert $schema",
            'ODBC' => "DRIVER={MariaDB Unicode};SERVER=$host;PORT=$port;DATABASE=$schema;UID=$account->name;PWD=…;FORCETLS=1;SSLCA=door.crt;SSLVERIFY=1",
            'JDBC' => 'jdbc:mariadb://'.(str_contains($host, ':') ? "[$host]" : $host).":$port/$schema?user=$account->name&password=…&sslMode=verify-ca&serverSslCert=door.crt",
            'Python' => "pymysql.connect(host=\"$host\", port=$port, user=\"$account->name\", password=\"…\", database=\"$schema\", ssl={\"ca\": \"door.crt\"})",
        ];
    }
}
