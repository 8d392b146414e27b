<?php

declare(strict_types=1);

/*
 * The floor: what the job costs when everything is written by hand for these twelve columns, with
 * the pages read from the disk, no checks and no rejects. Prints seconds and peak memory as JSON.
 */
$folder = (string) getenv('BENCH_PAGES');
$pages = (int) getenv('BENCH_COUNT');
$pdo = new PDO('mysql:host=127.0.0.1;port='.getenv('DB_PORT').';dbname=deep_spring_data;charset=utf8mb4', 'ds_keeper', (string) getenv('DB_KEEPER_PASSWORD'), [PDO::MYSQL_ATTR_LOCAL_INFILE => true]);
$pdo->exec('DROP TABLE IF EXISTS floor_loans');

$from = microtime(true);
$pdo->exec('CREATE TABLE floor_loans (loan_id BIGINT NOT NULL, ref VARCHAR(64), status VARCHAR(64), borrower VARCHAR(64), post_code VARCHAR(64), phone VARCHAR(64), policy VARCHAR(64), cover DECIMAL(38,2), due DATE, changed DATETIME(6), fragile TINYINT(1), note VARCHAR(1000), PRIMARY KEY (loan_id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin');
$file = tempnam(sys_get_temp_dir(), 'floor');
$out = fopen($file, 'wb');
$written = 0;
$load = static function () use ($pdo, $file, &$out, &$written): void {
    fclose($out);
    $pdo->exec('LOAD DATA LOCAL INFILE '.$pdo->quote($file).' INTO TABLE floor_loans CHARACTER SET utf8mb4');
    $out = fopen($file, 'wb');
    $written = 0;
};
for ($page = 1; $page <= $pages; $page++) {
    $answer = json_decode((string) file_get_contents("$folder/$page.json"), true);
    $text = '';
    foreach ($answer['data'] as $loan) {
        $insurance = $loan['insurance'];
        $text .= $loan['id']."\t".$loan['ref']."\t".$loan['status']."\t".$loan['borrower']['name']."\t".$loan['borrower']['post_code']."\t".$loan['borrower']['phone']
            ."\t".($insurance['policy'] ?? '\N')."\t".($insurance['value'] ?? '\N')."\t".($loan['due'] ?? '\N')."\t".substr($loan['changed'], 0, 10).' '.substr($loan['changed'], 11, 8)
            ."\t".($loan['fragile'] ? '1' : '0')."\t".addcslashes($loan['note'], "\\\t\n\r")."\n";
    }
    fwrite($out, $text);
    $written += strlen($text);
    if ($written >= 8 * 1024 * 1024) {
        $load();
    }
}
$load();
$seconds = microtime(true) - $from;
unlink($file);
$count = (int) $pdo->query('SELECT COUNT(*) FROM floor_loans')->fetchColumn();
$sum = $pdo->query('SELECT CONCAT(SUM(cover), " ", SUM(CRC32(CONCAT_WS("|", loan_id, ref, status, borrower, post_code, phone, policy, due, changed, fragile, note)))) FROM floor_loans')->fetchColumn();
$pdo->exec('DROP TABLE floor_loans');
echo json_encode(['seconds' => $seconds, 'memory' => memory_get_peak_usage(true), 'rows' => $count, 'sum' => $sum]);
