<?php

declare(strict_types=1);

/*
 * A list of records with lines in them that change while they are read: before each answer some edits are made, as
 * many as CHANGING_PLAN, a JSON file, says. `since` asks for those changed at that second or later; a record that
 * was deleted stays in the list, marked. The state stands in a file beside the plan.
 */
$plan = (array) json_decode((string) file_get_contents((string) getenv('CHANGING_PLAN')), true);
$lock = fopen(getenv('CHANGING_PLAN').'.lock', 'c');
flock($lock, LOCK_EX);
$file = getenv('CHANGING_PLAN').'.state';
$state = is_file($file) ? json_decode((string) file_get_contents($file), true) : ['next' => 1, 'edits' => 0, 'seed' => $plan['seed'], 'records' => [], 'requests' => 0];
mt_srand($state['seed']);
$write = static function (int $id) use (&$state): void {
    $lines = [];
    for ($line = 1; $line <= mt_rand(0, 3); $line++) {
        $lines[] = ['line' => $line, 'what' => 'object '.mt_rand(1, 999)];
    }
    $state['records'][$id] = ['id' => $id, 'name' => 'Crate '.mt_rand(1, 9999), 'changed' => gmdate('Y-m-d\TH:i:s\Z'), 'deleted' => false, 'lines' => $lines];
};
$edit = static function (int $count) use (&$state, $write): void {
    for (; $count > 0; $count--) {
        $state['edits']++;
        $chance = mt_rand(1, 100);
        $ids = array_keys($state['records']);
        if ($chance <= 30 || count($ids) < 20) {
            $write($state['next']++);
        } elseif ($chance <= 80) {
            $write($ids[mt_rand(0, count($ids) - 1)]);
        } else {
            $id = $ids[mt_rand(0, count($ids) - 1)];
            $state['records'][$id]['deleted'] = ! $state['records'][$id]['deleted'];
            $state['records'][$id]['changed'] = gmdate('Y-m-d\TH:i:s\Z');
        }
    }
};
$edit((int) ($_GET['edits'] ?? $plan['edits'] ?? 0));
$state['seed'] = mt_rand();
$state['requests']++;
file_put_contents($file, json_encode($state));
flock($lock, LOCK_UN);
header('Content-Type: application/json');
$records = array_values($state['records']);
if (isset($plan['newest_first'])) {
    usort($records, static fn (array $one, array $other): int => [$other['changed'], $other['id']] <=> [$one['changed'], $one['id']]);
}
if (isset($_GET['since'])) {
    $records = array_values(array_filter($records, static fn (array $one): bool => strtotime($one['changed']) >= strtotime($_GET['since'])));
}
if (isset($_GET['above'])) {
    $records = array_values(array_filter($records, static fn (array $one): bool => $one['id'] > (int) $_GET['above']));
}
$from = (int) ($_GET['offset'] ?? 0);
echo json_encode(['records' => array_slice($records, $from, 25), 'total' => count($records), 'marker' => "m{$state['requests']}", 'as_of' => gmdate('c')]);
