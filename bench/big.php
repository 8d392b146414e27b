<?php

declare(strict_types=1);

// One answer of about 20 MB with about 200,000 nodes: 11,000 loans with 18 members each.
header('Content-Type: application/json');
echo '{"data":[';
for ($n = 1; $n <= 11_000; $n++) {
    echo($n > 1 ? ',' : '').json_encode(['id' => $n, 'ref' => "NQ-$n", 'note' => str_repeat("Handle with gloves, crate $n. ", 52), 'borrower' => ['code' => 'gull-tower', 'name' => 'Gull Tower', 'town' => 'Sarn', 'post_code' => '08001', 'contact' => ['name' => 'Ødegård Halla', 'email' => 'desk@gull-tower.example']], 'tags' => ['fragile', 'night move'], 'fee' => '12.30', 'due' => '2031-03-02', 'open' => true, 'insurance' => null], JSON_UNESCAPED_UNICODE);
}
echo '],"has_more":false}';
