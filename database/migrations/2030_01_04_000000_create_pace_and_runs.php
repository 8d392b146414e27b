<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // How fast a source may be asked in an environment; one row for all workers.
        Schema::create('paces', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->json('state');
            $table->string('breaker', 10)->default('closed');
            $table->timestamps(6);
            $table->unique(['source_id', 'environment_id']);
        });
        // Who reads from it now, and how many requests at once are theirs.
        Schema::create('pace_readers', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('pace_id')->constrained()->cascadeOnDelete();
            $table->char('reader', 16)->charset('ascii')->unique();
            $table->unsignedInteger('slots');
            $table->unsignedInteger('wants');
            $table->double('seen_at');
            $table->index(['pace_id', 'id']);
        });
        Schema::table('runs', function (Blueprint $table): void {
            $table->dropColumn('stop_asked');
            $table->string('tables', 500)->default('');
            // What it is for, as long as it is waiting or reading: at most one of each.
            $table->string('active', 60)->nullable()->unique();
            $table->unsignedInteger('attempt')->default(0);
            $table->timestamp('heartbeat_at', 6)->nullable();
            $table->string('waits_for', 500)->nullable();
            $table->string('stop_how', 10)->nullable();
            $table->boolean('continuable')->default(false);
            $table->boolean('closely')->default(false);
            $table->unsignedBigInteger('total')->nullable();
            $table->unsignedInteger('retries')->default(0);
            $table->unsignedBigInteger('waited')->default(0);
            $table->json('findings')->nullable();
            $table->index(['state', 'id']);
        });
        Schema::create('run_events', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('run_id')->constrained()->cascadeOnDelete();
            $table->unsignedTinyInteger('level');
            $table->double('at');
            $table->unsignedInteger('page')->nullable();
            $table->string('kind', 20);
            $table->string('text', 1000);
            $table->index(['run_id', 'level', 'id']);
        });
        Schema::table('rejects', function (Blueprint $table): void {
            $table->unsignedInteger('page')->default(0);
        });
        // By what a service knows that nothing has changed (RFC 9110 §8.8).
        Schema::create('validators', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->char('fingerprint', 32)->charset('ascii');
            $table->string('etag', 500)->nullable();
            $table->string('last_modified', 60)->nullable();
            $table->unsignedInteger('pages');
            $table->timestamps(6);
            $table->unique(['endpoint_id', 'environment_id']);
        });
    }
};
