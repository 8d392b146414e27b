<?php

declare(strict_types=1);

/*
 * Loads files of rows for a `Loader`, beside the process that reads and flattens. The first line of
 * standard input says how to connect; every further line is a statement and is answered with a
 * line. Ends with its input, so it never outlives what it works for by more than one statement.
 */
$connection = json_decode((string) fgets(STDIN), true);
$pdo = new PDO($connection['dsn'], $connection['user'], $connection['password'], [PDO::MYSQL_ATTR_LOCAL_INFILE => true, PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
$pdo->exec("set session sql_mode = 'STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE', time_zone = '+00:00'");
unset($connection);

while (($line = fgets(STDIN)) !== false) {
    $sql = json_decode($line, true);
    try {
        $rows = $pdo->exec($sql);
        $warnings = $pdo->query('show warnings limit 5000')->fetchAll(PDO::FETCH_ASSOC);
        // 1062 is a key that was there already, which is counted; anything else would be a changed value.
        $other = array_values(array_filter($warnings, static fn (array $warning): bool => (int) $warning['Code'] !== 1062));
        $answer = ['rows' => $rows, 'warning' => $other[0]['Message'] ?? null, 'error' => null];
    } catch (PDOException $exception) {
        $answer = ['rows' => 0, 'warning' => null, 'error' => $exception->getMessage()];
    }
    fwrite(STDOUT, json_encode($answer, JSON_INVALID_UTF8_SUBSTITUTE)."\n");
}
