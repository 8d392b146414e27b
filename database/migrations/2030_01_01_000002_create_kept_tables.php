<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('runs', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->unsignedInteger('version');
            $table->string('state', 20)->index();
            $table->unsignedInteger('pages')->default(0);
            $table->unsignedBigInteger('records')->default(0);
            $table->unsignedBigInteger('rows')->default(0);
            $table->unsignedBigInteger('rejects')->default(0);
            $table->unsignedBigInteger('duplicates')->default(0);
            $table->unsignedBigInteger('bytes')->default(0);
            $table->boolean('stop_asked')->default(false);
            $table->string('ended', 500)->nullable();
            $table->json('diagnosis')->nullable();
            $table->json('ladder')->nullable();
            $table->timestamp('started_at', 6)->nullable();
            $table->timestamp('ended_at', 6)->nullable();
            $table->timestamps(6);
            $table->index(['endpoint_id', 'environment_id', 'id']);
        });
        Schema::create('kept_tables', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('run_id')->nullable()->constrained()->nullOnDelete();
            $table->string('name', 64);
            $table->string('given_name', 200);
            $table->boolean('is_branch');
            $table->json('columns');
            $table->json('key');
            $table->unsignedBigInteger('rows');
            $table->timestamp('refreshed_at', 6);
            $table->timestamps(6);
            $table->unique(['environment_id', 'name']);
        });
        Schema::create('rejects', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('run_id')->constrained()->cascadeOnDelete();
            $table->string('table', 200);
            $table->string('column', 200);
            $table->string('path', 1000);
            $table->text('value');
            $table->string('reason', 300);
            $table->boolean('whole_record');
        });
        Schema::create('queries', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->string('name', 190);
            $table->longText('sql');
            $table->timestamps(6);
        });
        Schema::create('query_runs', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('query_id')->nullable()->constrained()->nullOnDelete();
            $table->longText('sql');
            $table->unsignedInteger('rows')->nullable();
            $table->unsignedInteger('milliseconds');
            $table->text('error')->nullable();
            $table->timestamps(6);
            $table->index(['user_id', 'id']);
        });
    }
};
