<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\User;
use Illuminate\Console\Command;
use Illuminate\Contracts\Http\Kernel;
use Illuminate\Http\Request;

/**
 * The files of classes of packages that nearly every request needs, as JSON: found by answering a few. The
 * web server compiles them once, when it starts (`opcache.preload`).
 */
final class CommonClasses extends Command
{
    private const PAGES = ['/up', '/sign-in', '/feeds/openapi.json'];

    protected $signature = 'spring:classes';

    protected $hidden = true;

    public function handle(Kernel $kernel): int
    {
        User::query()->with('environment')->first();
        foreach (self::PAGES as $page) {
            $kernel->handle(Request::create(config('app.url').$page));
        }
        $vendor = base_path('vendor/');
        // These are loaded by name, whether their classes are there or not.
        $named = array_flip(require "{$vendor}composer/autoload_files.php");
        $files = [];
        foreach ([...get_declared_classes(), ...get_declared_interfaces(), ...get_declared_traits()] as $class) {
            $reflection = new \ReflectionClass($class);
            $file = (string) $reflection->getFileName();
            if (! $reflection->isAnonymous() && str_starts_with($file, $vendor) && ! str_starts_with($file, "{$vendor}composer/") && ! isset($named[$file]) && is_file($file)) {
                $files[$file] = true;
            }
        }
        $this->output->write((string) json_encode(array_keys($files), JSON_UNESCAPED_SLASHES));

        return self::SUCCESS;
    }
}
