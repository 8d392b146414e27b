<?php

declare(strict_types=1);

namespace Tests\App;

use App\Audit\AuditLog;
use App\Models\DataKey;
use App\Models\Secret;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use Illuminate\Support\Facades\Artisan;

final class VaultTest extends AppTestCase
{
    private string $file;

    protected function setUp(): void
    {
        parent::setUp();
        $this->file = sys_get_temp_dir().'/spring-key-'.bin2hex(random_bytes(5));
        file_put_contents($this->file, base64_encode(random_bytes(32))."\n");
        app()->instance(Vault::class, new Vault($this->file, app(AuditLog::class)));
    }

    protected function tearDown(): void
    {
        @unlink($this->file);
        @unlink("$this->file.next");
        parent::tearDown();
    }

    private function secret(): Secret
    {
        return Secret::query()->firstOrFail();
    }

    public function test_a_new_key_seals_the_data_keys_anew_and_no_secret(): void
    {
        $vault = app(Vault::class);
        $source = $this->source('stores', [], false);
        $vault->put($source, $this->trial(), 'key', 'canary-1', null);
        $password = $vault->derive('reader');
        [$sealed, $key, $old] = [$this->secret()->sealed, DataKey::query()->firstOrFail()->sealed, file_get_contents($this->file)];
        self::assertSame(1, $vault->rotate());
        self::assertNotSame($old, file_get_contents($this->file));
        self::assertSame('0600', substr(sprintf('%o', fileperms($this->file)), -4));
        self::assertNotSame($key, DataKey::query()->firstOrFail()->sealed);
        self::assertSame($sealed, $this->secret()->sealed);
        foreach ([$vault, new Vault($this->file, app(AuditLog::class))] as $any) {
            self::assertSame('canary-1', $any->open($this->secret()));
            self::assertSame($password, $any->derive('reader'), 'accounts of the database keep their passwords');
        }
        file_put_contents($this->file, (string) $old);
        $this->expectException(UnreadableSecret::class);
        (new Vault($this->file, app(AuditLog::class)))->open($this->secret());
    }

    public function test_the_command_rotates_and_a_key_that_is_not_the_right_one_is_said(): void
    {
        $this->source('stores');
        self::assertSame(0, Artisan::call('spring:rotate-key'), Artisan::output());
        self::assertSame('st-demo-0b8e5c71f9a2d446', app(Vault::class)->open($this->secret()));
        file_put_contents($this->file, base64_encode(random_bytes(32)));
        app()->instance(Vault::class, new Vault($this->file, app(AuditLog::class)));
        self::assertSame(1, Artisan::call('spring:rotate-key'), Artisan::output());
        $this->actingAs($this->person());
        $this->post('/sources/stores/secrets', ['secret_name' => 'other', 'secret_value' => 'x'])->assertStatus(503)->assertSee('is not the one that they were sealed with');
        $this->post('/sources/stores/test', [])->assertOk()->assertSee('cannot be opened with the key in use');
        $this->get('/sources/stores')->assertOk();
    }

    public function test_a_stop_between_database_and_file_loses_nothing(): void
    {
        $vault = app(Vault::class);
        $vault->put($this->source('stores', [], false), $this->trial(), 'key', 'canary-2', null);
        $old = (string) file_get_contents($this->file);
        $vault->rotate();
        // As if the process had died before the file was put in place.
        rename($this->file, "$this->file.next");
        file_put_contents($this->file, $old);
        self::assertSame('canary-2', (new Vault($this->file, app(AuditLog::class)))->open($this->secret()));
        self::assertFileDoesNotExist("$this->file.next");
        self::assertSame('canary-2', (new Vault($this->file, app(AuditLog::class)))->open($this->secret()));
        // As if it had died before the database took the change.
        file_put_contents("$this->file.next", base64_encode(random_bytes(32)));
        self::assertSame('canary-2', (new Vault($this->file, app(AuditLog::class)))->open($this->secret()));
    }

    public function test_secrets_of_before_the_data_keys_are_read_and_moved(): void
    {
        $this->source('stores');
        $key = (string) base64_decode(trim((string) file_get_contents($this->file)), true);
        $nonce = random_bytes(24);
        $this->secret()->forceFill(['sealed' => base64_encode($nonce.sodium_crypto_secretbox('canary-3', $nonce, $key))])->save();
        self::assertSame('canary-3', (new Vault($this->file, app(AuditLog::class)))->open($this->secret()));
        (new Vault($this->file, app(AuditLog::class)))->rotate();
        self::assertStringStartsWith('k', $this->secret()->sealed);
        self::assertSame('canary-3', (new Vault($this->file, app(AuditLog::class)))->open($this->secret()));
    }

    public function test_a_damaged_secret_says_which_and_nothing_of_its_value(): void
    {
        $this->source('stores');
        foreach (['k999:'.base64_encode(random_bytes(60)), 'k1:', 'rubbish'] as $sealed) {
            $this->secret()->forceFill(['sealed' => $sealed])->save();
            try {
                app(Vault::class)->open($this->secret());
                self::fail($sealed);
            } catch (UnreadableSecret $unreadable) {
                self::assertStringContainsString('"key" cannot be opened', $unreadable->getMessage());
            }
        }
    }
}
