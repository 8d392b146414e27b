<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Models\Source;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use DeepSpring\Pace\Settings;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Yaml\Yaml;

/**
 * How the rest is got, as the sheet sets it.
 */
final class OnwardSheetTest extends AppTestCase
{
    /**
     * Every setting that the documentation shows.
     *
     * @return iterable<string, array{array<string, mixed>}>
     */
    public static function settings(): iterable
    {
        preg_match_all('/`(\{style: .*?\})`(?: \||;)/', (string) file_get_contents(dirname(__DIR__, 2).'/docs/pagination.md'), $found);
        foreach ($found[1] as $yaml) {
            yield $yaml => [Yaml::parse($yaml)];
        }
        yield 'ends' => [['style' => 'page', 'send_as' => 'page', 'end_on' => [404, 410], 'short_page_ends' => true, 'max_records' => 500, 'max_pages' => 9]];
        yield 'links elsewhere' => [['style' => 'link-header', 'rel' => 'later', 'any_origin' => true, 'total' => 'x-total']];
        yield 'windows with pages' => [['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => 'P1M', 'start' => '-P1Y', 'to_is' => 'included', 'inner' => ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next', 'more' => '$.more']]];
        yield 'parts apart' => [['style' => 'partition', 'list' => '$.parts[*]', 'send_as' => 'part', 'in' => 'path', 'first_holds' => 'none', 'path' => '/parts/{part}/of/{handle}', 'take' => ['handle' => '$.handle']]];
    }

    /**
     * @param  array<string, mixed>  $onward
     */
    #[DataProvider('settings')]
    public function test_a_sheet_that_is_saved_as_it_came_keeps_every_setting(array $onward): void
    {
        $this->actingAs($this->person());
        $source = $this->with($onward);
        $this->post('/sources/here/endpoints/list', $this->opened())->assertOk()->assertDontSee('not saved');
        self::assertEquals($onward, $source->refresh()->current()->document['endpoints'][0]['onward']);
    }

    public function test_a_style_just_chosen_begins_with_something_that_can_be_sent(): void
    {
        $this->actingAs($this->person());
        $source = $this->with(['style' => 'none']);
        foreach (\DeepSpring\Onward\Pagers::family()->names() as $style) {
            $fields = $this->opened();
            $fields['onward']['style'] = $style;
            $this->post('/sources/here/endpoints/list', ['do' => 'reshape'] + $fields)->assertOk()->assertDontSee('not saved');
            self::assertSame($style, $source->refresh()->current()->endpoint('list')?->onward()->style);
        }
    }

    public function test_what_is_wrong_is_said_at_its_place_and_nothing_is_lost(): void
    {
        $this->actingAs($this->person());
        $this->with(['style' => 'page', 'send_as' => 'page']);
        $wrong = [
            [['style' => 'page', 'send_as' => 'page', 'size' => 'many', 'size_as' => 'limit'], 'Size: must be a whole number'],
            [['style' => 'page', 'send_as' => 'page', 'size' => '10', 'size_as' => ''], 'and size_as go together'],
            [['style' => 'page', 'send_as' => 'page', 'total' => '$.['], 'Total: '],
            [['style' => 'page', 'send_as' => ''], 'Needs "send_as"'],
        ];
        foreach ($wrong as [$onward, $says]) {
            $this->post('/sources/here/endpoints/list', ['onward' => $onward] + $this->opened())->assertOk()->assertSee($says);
        }
        self::assertSame(['style' => 'page', 'send_as' => 'page'], Source::query()->where('slug', 'here')->firstOrFail()->current()->document['endpoints'][0]['onward']);
        $this->with(['style' => 'partition', 'list' => '$.parts[*]', 'send_as' => 'part']);
        $fields = $this->opened();
        $fields['onward']['take'] = 'handle = $.handle';
        $this->post('/sources/here/endpoints/list', $fields)->assertSee('write a name, a colon and the path');
    }

    public function test_many_processes_share_one_bucket(): void
    {
        $source = $this->with(['style' => 'none']);
        $settings = new Settings(600);
        $pacer = new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, $settings);
        $pacer->atOnce(1, 0);
        $out = (string) tempnam(sys_get_temp_dir(), 'bucket');
        $children = [];
        for ($n = 0; $n < 5; $n++) {
            $children[] = Child::start("taker $n", [PHP_BINARY, '-r', 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); $pacer = new App\Pace\Pacer(app(App\Pace\RateLimitStore::class), (int) $argv[1], (int) $argv[2], new DeepSpring\Pace\Settings(600)); $pacer->atOnce(1, 0); for ($i = 0; $i < 20; $i++) { file_put_contents($argv[3], sprintf("%.6f\n", $pacer->reserve()[0] + microtime(true)), FILE_APPEND | LOCK_EX); }', (string) $source->id, (string) $this->trial()->id, $out], [], '/dev/null', base_path());
        }
        for ($until = microtime(true) + 30; microtime(true) < $until && count((array) file($out)) < 100; usleep(50_000));
        array_map(static fn (Child $child) => $child->stop(2), $children);
        $at = array_map(floatval(...), (array) file($out));
        unlink($out);
        self::assertCount(100, $at);
        sort($at);
        $gap = 60 / (600 * 0.968);
        foreach ([30, 60, 99] as $many) {
            // Whatever the burst, so many requests after the first take their time; reading the clock takes some, too.
            self::assertGreaterThanOrEqual(($many - 9) * $gap - 0.15, $at[$many] - $at[0], "$many requests");
        }
    }

    /**
     * @param  array<string, mixed>  $onward
     */
    private function with(array $onward): Source
    {
        return $this->draft(self::$standinsAddress.'/doors', [], [['slug' => 'list', 'name' => 'List', 'does' => 'list', 'ask' => ['method' => 'POST', 'path' => '/open'], 'onward' => $onward]]);
    }

    /**
     * @return array<string, mixed>
     */
    private function opened(): array
    {
        return $this->fields((string) $this->get('/sources/here/endpoints/list')->assertOk()->getContent(), 'sheet-form');
    }
}
