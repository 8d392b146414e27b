<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\RunState;
use App\Operations\Readiness;

/**
 * A disk that is full, for which a small one is put in its place.
 */
final class FullDiskTest extends AppTestCase
{
    public function test_a_run_says_so_and_the_tables_stay_as_they_were(): void
    {
        $place = sys_get_temp_dir().'/small-'.getmypid();
        mkdir("$place/tmp", 0700, true);
        exec('mount -t tmpfs -o size=48k none '.escapeshellarg("$place/tmp").' 2>&1', $said, $code);
        if ($code !== 0) {
            rmdir("$place/tmp");
            rmdir($place);
            self::markTestSkipped('Only root can put a small disk in the place of a large one: '.implode(' ', $said));
        }
        $var = config('spring.var');
        try {
            $source = $this->source();
            self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
            $before = $this->rows('select count(*) n, max(loan_id) m from loans');
            config(['spring.var' => str_repeat('../', substr_count(base_path(), '/')).ltrim($place, '/')]);
            $run = $this->refresh($source, 'loans');
            self::assertSame([RunState::Failed, 'keep', null], [$run->state, $run->diagnosis['code'] ?? '', $run->active]);
            self::assertMatchesRegularExpression('/cannot be written to the disk of this server: is it full/', $run->diagnosis['what'] ?? '');
            self::assertEquals($before, $this->rows('select count(*) n, max(loan_id) m from loans'));
            self::assertStringContainsString('MB are left', (string) app(Readiness::class)->parts()['disk']);
        } finally {
            config(['spring.var' => $var]);
            exec('umount '.escapeshellarg("$place/tmp").'; rm -rf '.escapeshellarg($place));
        }
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state, 'with room again it goes on');
    }
}
