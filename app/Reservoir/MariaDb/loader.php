<?php

declare(strict_types=1);

/*
 * Loads files of rows for a `Loader`, beside the process that reads and flattens. The first line of
 * standard input says how to connect; every further line is an order and is answered with a line.
 * An order is one transaction: files into tables, and how far the reading had got with them. It is
 * undone as a whole when the mark of that is no longer this reader's. Ends with its input, so it
 * never outlives what it works for by more than one order.
 */
$connection = json_decode((string) fgets(STDIN), true);
$pdo = new PDO($connection['dsn'], $connection['user'], $connection['password'], [PDO::MYSQL_ATTR_LOCAL_INFILE => true, PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION] + $connection['options']);
$pdo->exec("set session sql_mode = 'STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE', time_zone = '+00:00'");
unset($connection);

while (($line = fgets(STDIN)) !== false) {
    $order = json_decode($line, true);
    $answer = ['rows' => [], 'warning' => null, 'error' => null, 'lost' => false, 'overtaken' => false];
    try {
        $pdo->beginTransaction();
        foreach ($order['loads'] as $table => $sql) {
            $answer['rows'][$table] = $pdo->exec($sql);
            $warnings = $pdo->query('show warnings limit 5000')->fetchAll(PDO::FETCH_ASSOC);
            // 1062 is a key that was there already, which is counted; anything else would be a changed value.
            $other = array_values(array_filter($warnings, static fn (array $warning): bool => (int) $warning['Code'] !== 1062));
            $answer['warning'] ??= $other[0]['Message'] ?? null;
        }
        if ($order['pages'] !== null) {
            $file = fopen($order['pages']['file'], 'r');
            // Several in one statement: one for each would take most of the time.
            $statement = '';
            foreach ($order['pages']['pages'] as [$number, $type, $length]) {
                $body = $length === 0 ? '' : (string) stream_get_contents($file, $length);
                foreach (str_split((string) gzdeflate($body, 1), $order['pages']['part']) as $part => $content) {
                    if ($statement !== '' && strlen($statement) + 2 * strlen($content) > 2_000_000) {
                        $pdo->exec($statement);
                        $statement = '';
                    }
                    $statement .= ($statement === '' ? "INSERT INTO {$order['pages']['table']} VALUES " : ', ').sprintf('(%d, %d, %s, %d, x\'%s\')', $number, $part, $pdo->quote($type), $length, bin2hex($content));
                }
                unset($body);
            }
            $statement === '' || $pdo->exec($statement);
            fclose($file);
        }
        if ($order['mark'] !== null) {
            $statement = $pdo->prepare($order['mark'][0]);
            $statement->execute($order['mark'][1]);
            $answer['overtaken'] = $statement->rowCount() !== 1;
        }
        $answer['overtaken'] || $answer['warning'] !== null ? $pdo->rollBack() : $pdo->commit();
    } catch (PDOException $exception) {
        $answer['error'] = $exception->getMessage();
        $answer['lost'] = in_array($exception->errorInfo[1] ?? 0, [1053, 1077, 1152, 1184, 1927, 2002, 2003, 2006, 2013, 2055], true);
        try {
            if ($pdo->inTransaction()) {
                $pdo->rollBack();
            }
        } catch (PDOException) {
            $answer['lost'] = true;
        }
    }
    fwrite(STDOUT, json_encode($answer, JSON_INVALID_UTF8_SUBSTITUTE)."\n");
}
