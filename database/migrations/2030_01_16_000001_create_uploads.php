<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // Files that were handed in, each under an address of its own.
        Schema::create('uploads', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->string('slug', 100);
            $table->string('file_name', 200);
            $table->string('sheet', 100)->nullable();
            $table->unsignedBigInteger('bytes');
            $table->char('mark', 32);
            $table->binary('body');
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->timestamps(6);
            $table->unique(['environment_id', 'slug']);
        });
        Schema::getConnection()->statement('ALTER TABLE uploads MODIFY body LONGBLOB NOT NULL');
    }
};
