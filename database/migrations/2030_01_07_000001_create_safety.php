<?php

declare(strict_types=1);

use App\Models\Secret;
use App\Models\Source;
use App\Models\StoredToken;
use App\Secrets\Origins;
use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        foreach (['secrets', 'tokens'] as $name) {
            Schema::table($name, function (Blueprint $table): void {
                $table->json('origins')->nullable();
            });
        }
        Schema::table('runs', function (Blueprint $table): void {
            // Processes that died over it without having read a page more.
            $table->unsignedInteger('deaths')->default(0);
            $table->unsignedInteger('died_at_page')->default(0);
        });
        // Statements of people that wait for their turn, in their order.
        Schema::create('statement_turns', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->char('ticket', 32)->unique();
            $table->double('seen_at');
        });
        // What was given before belongs to where it is sent by what is published, or drafted where nothing is.
        foreach ([Secret::query(), StoredToken::query()] as $query) {
            foreach ($query->get() as $row) {
                $source = Source::query()->find($row->source_id);
                $environment = \App\Models\Environment::query()->find($row->environment_id);
                if ($source !== null && $environment !== null) {
                    $row->newQuery()->whereKey($row->id)->toBase()->update(['origins' => json_encode(Origins::inUse($source, $environment), JSON_UNESCAPED_SLASHES)]);
                }
            }
        }
    }
};
