<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('table_indexes', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('table', 64);
            $table->json('columns');
            $table->char('mark', 64);
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->dateTime('built_at')->nullable();
            $table->unsignedInteger('milliseconds')->nullable();
            $table->string('fault', 500)->nullable();
            $table->dateTime('used_at')->nullable();
            $table->timestamps();
            $table->unique(['environment_id', 'table', 'mark']);
        });
        Schema::create('statement_uses', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('table', 64);
            $table->json('use');
            $table->char('mark', 64);
            $table->date('day');
            $table->unsignedInteger('times');
            $table->unsignedBigInteger('milliseconds');
            $table->unique(['environment_id', 'table', 'mark', 'day']);
            $table->index('day');
        });
    }
};
