<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // Where a service says what changed since the last complete run.
        Schema::create('change_links', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->char('fingerprint', 32);
            $table->text('link');
            $table->timestamps(6);
            $table->unique(['endpoint_id', 'environment_id']);
        });
    }
};
