<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('schedules', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->json('refresh');
            $table->dateTime('next_at')->nullable()->index();
            $table->dateTime('paused_at')->nullable();
            $table->foreignId('paused_by')->nullable()->constrained('users')->nullOnDelete();
            $table->timestamps();
            $table->unique(['endpoint_id', 'environment_id']);
        });
        Schema::table('sources', static function (Blueprint $table): void {
            $table->unsignedInteger('scheduled_version')->nullable();
        });
        Schema::table('runs', static function (Blueprint $table): void {
            $table->string('begun_by', 300)->nullable();
            $table->json('chain')->nullable();
            $table->boolean('followed')->default(false);
            $table->index(['followed', 'state']);
        });
        DB::table('runs')->update(['followed' => true]);
    }
};
