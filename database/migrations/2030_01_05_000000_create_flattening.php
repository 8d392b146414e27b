<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('runs', function (Blueprint $table): void {
            // Rows that a condition left out, which is no fault.
            $table->unsignedBigInteger('filtered')->default(0);
        });
        // What each complete run saw, for the next one to compare with.
        Schema::create('pictures', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('run_id')->nullable()->constrained()->nullOnDelete();
            $table->binary('picture');
            $table->timestamps(6);
            $table->index(['endpoint_id', 'environment_id', 'id']);
        });
        Schema::create('drifts', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('run_id')->nullable()->constrained()->nullOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->string('kind', 20);
            $table->string('table', 200);
            $table->string('path', 2000);
            $table->string('sentence', 1000);
            $table->json('examples');
            $table->string('answer', 20)->nullable();
            $table->timestamp('answered_at', 6)->nullable();
            $table->timestamps(6);
            $table->index(['endpoint_id', 'environment_id', 'answer']);
        });
        Schema::table('rejects', function (Blueprint $table): void {
            $table->string('record_key', 200)->default('');
            $table->index(['run_id', 'table', 'column', 'id']);
        });
    }
};
